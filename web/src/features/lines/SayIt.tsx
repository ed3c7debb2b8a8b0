/** A unit in one sentence, or an engineer's schedule: read as it is typed, drawn only when it is taken. */
import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { type SubmitEvent, useEffect, useState } from "react";

import { api, data, freshKey, post, type Problem, Refusal, type ScheduleOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { asBase64 } from "../../ui/files";
import { Button, Mark } from "../../ui/parts";
import { asText } from "../../ui/text";
import { useMetric } from "../../ui/units";

const EXAMPLE = "MS-1 mini-split 208/230 1ph MCA 22 max 35, 60 ft from Panel A, roof";
const PAUSE_MS = 250;
const WAITS = "What was entered before still waits for Leitung. Try again once it is there.";

interface Props {
  install: string;
  plan: PlanHandle;
  onDrawn: (id: string) => void;
}

export function SayIt({ install, plan, onDrawn }: Props) {
  const [text, setText] = useState("");
  const asked = useSettled(text.trim(), PAUSE_MS);
  const units = useMetric() ? "metric" : "us";
  const client = useQueryClient();
  const reading = (said: string, revision: number | undefined) =>
    queryOptions({
      queryKey: ["sentence", install, revision, said, units],
      queryFn: async () =>
        data(
          await api.POST("/api/installs/{install_id}/entry/sentence", {
            params: { path: { install_id: install } },
            body: { text: said, units },
          }),
        ),
      staleTime: Infinity,
      retry: false,
    });
  const read = useQuery({ ...reading(asked, plan.plan?.install.revision), enabled: asked !== "" });
  const found = asked && !read.isError ? read.data : undefined;
  const { drawn = [], of_no_kind: noKind = [] } = found?.brought ?? {};
  // Enter may come before the sentence is read: it is drawn as soon as it is.
  async function draw(said: string) {
    const { brought } = await client.query(reading(said, await plan.settled()));
    const first = brought.drawn[0];
    if (!first) return;
    const many = brought.drawn.length;
    plan.change(brought.patch, many > 1 ? `Add ${many} lines` : `Add the line of ${first}`);
    setText((now) => (now.trim() === said ? "" : now));
    onDrawn(first);
  }
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const said = text.trim();
    // What cannot be read is told under the field.
    if (said) void draw(said).catch(() => undefined);
  }
  return (
    <form onSubmit={submit} className="max-w-3xl">
      <label className="block">
        <b>Say the unit in one sentence</b>
        <input
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder={EXAMPLE}
          autoComplete="off"
          maxLength={2000}
          className="mt-1 block min-h-12 w-full border-b-2 border-ink/60 bg-sheet px-3 text-lg placeholder:text-soft focus:border-copper"
        />
      </label>
      <div role="status" className="mt-2 min-h-6">
        {found && (
          <p className="leading-7">
            {found.pieces.map((piece, index) =>
              piece.understood ? (
                <span key={index} className="border-b-2 border-ink font-semibold">
                  {piece.text}
                </span>
              ) : (
                <span key={index} className="text-soft">
                  {piece.text}
                </span>
              ),
            )}
          </p>
        )}
        {found && found.left.length > 0 && (
          <p className="text-sm text-warning">Not understood, and not taken: {found.left.join("; ")}.</p>
        )}
        {noKind.length > 0 && (
          <p className="text-sm text-warning">
            What kind of unit it is was not said: add mini-split, rooftop unit, heater …
          </p>
        )}
        {read.error instanceof Refusal && asked === text.trim() && (
          <p className="text-sm text-warning">{read.error.message}</p>
        )}
        {found && !found.pieces.some((piece) => piece.understood) && (
          <p className="text-sm text-soft">Nothing understood yet. Write what the plate says.</p>
        )}
      </div>
      {drawn.length > 0 && (
        <Button kind="main" type="submit" className="mt-2">
          {drawn.length > 1 ? `Draw ${drawn.length} lines` : `Draw ${drawn[0] ?? "it"}`}
        </Button>
      )}
    </form>
  );
}

/** What stands still for a moment: the text once nobody types. */
function useSettled(text: string, pause: number): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), pause);
    return () => clearTimeout(timer);
  }, [text, pause]);
  return settled;
}

export function BringSchedule({ install, plan, onDrawn }: Props) {
  const [read, setRead] = useState<{ file: File; at: number; found: ScheduleOut } | null>(null);
  const [refused, setRefused] = useState<Problem | null>(null);
  const [said, setSaid] = useState("");
  async function readIn(file: File) {
    setRead(null);
    setSaid("Reading …");
    const at = await plan.settled().catch(() => null);
    if (at === null) {
      setSaid(WAITS);
      return;
    }
    const body = { name: file.name, base64: await asBase64(file) };
    const sent = await post<ScheduleOut>(`/api/installs/${install}/entry/schedule`, freshKey(), body);
    setSaid(sent.kind === "unreachable" ? "Leitung does not answer. Try again." : "");
    setRefused(sent.kind === "refused" ? sent.problem : null);
    if (sent.kind === "done") setRead({ file, at, found: sent.body });
  }
  async function take() {
    if (!read) return;
    const { file, at, found } = read;
    // What it would draw was named beside what stood then.
    if ((await plan.settled()) !== at) {
      await readIn(file);
      setSaid("The plan has changed meanwhile, so the schedule was read again. Look once more, then draw.");
      return;
    }
    const { patch, drawn, updated } = found.brought;
    plan.change(patch, `Schedule ${found.sheet}: ${drawn.length} lines`);
    setRead(null);
    const first = drawn[0] ?? updated[0];
    if (first) onDrawn(first);
  }
  const found = read?.found;
  const brought = found?.brought;
  return (
    <section aria-label="An equipment schedule" className="max-w-3xl">
      <label className="inline-flex min-h-11 cursor-pointer items-center rounded-sm border border-ink/60 px-4 font-semibold focus-within:border-copper hover:border-copper">
        Bring the engineer’s schedule
        <input
          type="file"
          accept=".csv,.xlsx,.txt"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void readIn(file);
            event.target.value = "";
          }}
        />
      </label>
      <p role="status" className="text-soft">
        {said}
      </p>
      {refused && (
        <p role="alert" className="mt-2 flex gap-2 font-semibold text-stop">
          <Mark severity="stop" />
          {refused.errors?.map((row) => `${row.message}. ${row.remedy}`).join(" ") ?? refused.detail}
        </p>
      )}
      {found && brought && (
        <div className="mt-3 border-l-4 border-copper bg-sheet px-4 py-3">
          <p>
            <b>{found.sheet}</b>, headings in row {found.header_row}: {Object.keys(found.columns).join(", ")}.
            {found.ignored.length > 0 && <span className="text-soft"> Left out: {found.ignored.join(", ")}.</span>}
          </p>
          <ul className="mt-2 max-h-80 overflow-y-auto">
            {found.units.map((unit, index) => (
              <li key={`${unit.row} ${index}`} className="flex flex-wrap gap-x-4 border-t border-rule py-1">
                <b className="w-28">{unit.id ?? `row ${unit.row}`}</b>
                <span>{unit.kind?.replaceAll("_", " ") ?? "kind not known: not drawn"}</span>
                <span className="text-soft">{plateWords(unit.nameplate)}</span>
              </li>
            ))}
          </ul>
          {found.errors.map((error) => (
            <p key={`${error.row} ${error.column}`} className="mt-1 flex gap-2 text-warning">
              <Mark severity="warning" /> Row {error.row}, {error.column}: “{error.value}” {error.says}
            </p>
          ))}
          <div className="mt-3 flex flex-wrap gap-2">
            <Button
              kind="main"
              disabled={!brought.drawn.length && !brought.updated.length}
              onClick={() => void take().catch(() => setSaid(WAITS))}
            >
              {[
                brought.drawn.length ? `Draw ${brought.drawn.length} lines` : "",
                brought.updated.length ? `update ${brought.updated.length} units` : "",
              ]
                .filter(Boolean)
                .join(", ") || "Nothing to draw"}
            </Button>
            <Button onClick={() => setRead(null)}>Not now</Button>
          </div>
        </div>
      )}
    </section>
  );
}

const WORDS: [string, string, string][] = [
  ["volts", "", " V"],
  ["phase", "", " phase"],
  ["mca_a", "MCA ", ""],
  ["max_ocpd_a", "max ", " A"],
  ["amps", "", " A"],
];

/** `208 V, 3 phase, MCA 41.2, max 50 A`. */
function plateWords(plate: Record<string, unknown>): string {
  const heat = plate["heat"] as { watts?: number } | undefined;
  const parts = WORDS.filter(([name]) => plate[name] != null).map(
    ([name, before, behind]) => `${before}${asText(plate[name])}${behind}`,
  );
  return [...parts, ...(heat?.watts ? [`${heat.watts / 1000} kW`] : [])].join(", ");
}
