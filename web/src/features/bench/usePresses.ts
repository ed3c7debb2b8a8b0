/** What is pressed on the bench, when, and which frame of what follows is shown. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";

import { api, data, type Frame } from "../../api/client";

export interface Stretch {
  on: string[];
  for_s: number;
}

export interface Presses {
  on: readonly string[];
  frame: Frame | null;
  frames: readonly Frame[];
  number: number;
  /** Seconds since the last press. */
  clock: number;
  next: number | null;
  playing: boolean;
  speed: number;
  failed: boolean;
  press: (signal: string) => void;
  clear: () => void;
  step: (by: number) => void;
  play: (on: boolean) => void;
  setSpeed: (speed: number) => void;
}

/** What is on when the bench opens: nothing, or the state in which a mistake shows. */
function opening([before, on]: readonly (string | null)[]): Stretch[] {
  const names = (text: string | null | undefined) => (text ? text.split(",") : []);
  return [...(before ? [{ on: names(before), for_s: 600 }] : []), { on: names(on), for_s: 0 }];
}

/** Between two things that move at the same second, so that the eye can follow their order, ms. */
const BEAT = 420;
const LONGEST = 60;

export function usePresses(
  install: string,
  revision: number,
  system: string,
  slip: string | null,
  begin: readonly (string | null)[],
): Presses {
  const [course, setCourse] = useState<Stretch[]>(() => opening(begin));
  const [number, setNumber] = useState(0);
  const [clock, setClock] = useState(0);
  const [playing, setPlaying] = useState(true);
  const [speed, setSpeed] = useState(1);
  const answer = useQuery({
    queryKey: ["bench-run", install, revision, system, slip, course],
    queryFn: async () =>
      data(
        await api.POST("/api/installs/{install_id}/bench/runs", {
          params: { path: { install_id: install } },
          body: { system, course, slip },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  const frames = answer.data?.frames ?? [];
  const fresh = !answer.isPlaceholderData && frames.length > 0;
  const shown = Math.min(number, Math.max(0, frames.length - 1));
  const frame = frames[shown] ?? null;
  const following = frames[shown + 1];

  useEffect(() => {
    if (!fresh || !playing || !following) return;
    if (following.at_s <= clock) {
      const timer = setTimeout(() => setNumber(shown + 1), BEAT);
      return () => clearTimeout(timer);
    }
    const timer = setInterval(() => setClock((now) => Math.min(following.at_s, now + 0.1 * speed)), 100);
    return () => clearInterval(timer);
  }, [fresh, playing, following, clock, shown, speed]);

  const on = course[course.length - 1]?.on ?? [];
  const restart = useCallback((next: Stretch[]) => {
    setCourse(next.length > LONGEST ? [{ on: [], for_s: 0 }, ...next.slice(-LONGEST + 1)] : next);
    setNumber(0);
    setClock(0);
    setPlaying(true);
  }, []);
  return {
    on,
    frame: fresh || frame ? frame : null,
    frames,
    number: shown,
    clock,
    next: following ? following.at_s : null,
    playing,
    speed,
    failed: answer.isError,
    press: (signal) => {
      const now = on.includes(signal) ? on.filter((entry) => entry !== signal) : [...on, signal].sort();
      // What has been reached by now is where the next press finds it; at rest, ten minutes change nothing.
      const lasted = following ? Math.max(clock, frame?.at_s ?? 0) : Math.max(600, clock);
      restart([...course.slice(0, -1), { on: [...on], for_s: lasted }, { on: now, for_s: 0 }]);
    },
    clear: () => restart([{ on: [], for_s: 0 }]),
    step: (by) => {
      const to = Math.max(0, Math.min(frames.length - 1, shown + by));
      setPlaying(false);
      setNumber(to);
      setClock(frames[to]?.at_s ?? 0);
    },
    play: setPlaying,
    setSpeed,
  };
}
