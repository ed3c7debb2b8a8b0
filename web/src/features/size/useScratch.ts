/** A plan that is not kept: one line to type on and read from. It stays in this browser until it is cleared. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, type CheckOut, data, type Patch, type PlanDoc, type PlanOut, Refusal } from "../../api/client";
import { merge, patchAt } from "../../plan/merge";
import type { FieldError, PlanHandle } from "../../plan/usePlan";
import { asText } from "../../ui/text";

const KEY = "leitung:quick-size";

export const BLANK: PlanDoc = {
  format: "leitung-plan",
  format_version: 2,
  rulebook: "us-2023",
  name: "Quick size",
  site: {},
  sources: { P: { kind: "receptacle", name: "Supply" } },
  equipment: { U: { kind: "unit_heater" } },
  circuits: {
    Q: {
      name: "one line, kept nowhere",
      source: "P",
      equipment: "U",
      ocpd: { type: "breaker" },
      run: { s1: { order: 10, material: "Cu" } },
    },
  },
} as unknown as PlanDoc;

interface Stack {
  past: PlanDoc[];
  now: PlanDoc;
  next: PlanDoc[];
}

interface Scratch {
  plan: PlanHandle;
  size: CheckOut["sizes"][string] | undefined;
  clear: () => void;
}

function remembered(): PlanDoc {
  try {
    const kept = localStorage.getItem(KEY);
    return kept ? (JSON.parse(kept) as PlanDoc) : BLANK;
  } catch {
    return BLANK;
  }
}

function checkQuery(document: PlanDoc) {
  return {
    queryKey: ["check", document],
    queryFn: async () => data(await api.POST("/api/check", { body: document })),
    staleTime: Infinity,
    retry: false,
  };
}

export function useScratch(): Scratch {
  const client = useQueryClient();
  const [stack, setStack] = useState<Stack>(() => ({ past: [], now: remembered(), next: [] }));
  const [errors, setErrors] = useState<Record<string, FieldError>>({});
  const [notice, setNotice] = useState<string | null>(null);
  const { now } = stack;
  const query = useQuery({ ...checkQuery(now), placeholderData: (old) => old });
  const checked = query.data;

  function show(next: Stack) {
    setStack(next);
    localStorage.setItem(KEY, JSON.stringify(next.now));
  }
  function change(patch: Patch, label: string, field?: string, typed = "") {
    const after = merge(now, patch);
    show({ past: [...stack.past, now], now: after, next: [] });
    client
      .query(checkQuery(after))
      .then(() => field && forget(field))
      .catch((error: unknown) => {
        if (!(error instanceof Refusal)) return;
        // What was refused stays in its field; the line goes on from what stood before.
        show(stack);
        const first = error.problem.errors?.[0];
        const message = first ? `${first.message}.` : error.problem.detail;
        if (field) setErrors((old) => ({ ...old, [field]: { typed, message, remedy: first?.remedy ?? "" } }));
        else setNotice(`${label}: ${message} ${first?.remedy ?? ""}`.trim());
      });
  }
  function forget(field: string) {
    setErrors((old) => Object.fromEntries(Object.entries(old).filter(([name]) => name !== field)));
  }
  function travel(back: boolean) {
    const from = back ? stack.past : stack.next;
    const there = from.at(-1);
    if (!there) return;
    const rest = from.slice(0, -1);
    show(
      back
        ? { past: rest, now: there, next: [...stack.next, now] }
        : { past: [...stack.past, now], now: there, next: rest },
    );
  }
  const offline = query.isError && !(query.error instanceof Refusal);
  const plan: PlanHandle = {
    plan: checked && scratchOut(checked),
    document: now,
    loadError: null,
    outbox: { waiting: [], trouble: offline ? "offline" : null, conflict: null } as unknown as PlanHandle["outbox"],
    errors,
    notice,
    change: (patch, label, field) => change(patch, label, field),
    set: (path, value, label, entry) =>
      change(patchAt(path, value), label, entry?.field ?? path, entry?.typed ?? asText(value)),
    undo: () => travel(true),
    redo: () => travel(false),
    record: () => undefined,
    retry: () => void query.refetch(),
    settled: () => Promise.resolve(0),
    resolve: () => undefined,
    forget,
    clearNotice: () => setNotice(null),
  };
  return {
    plan,
    size: checked?.sizes.Q,
    clear: () => {
      show({ past: [...stack.past, now], now: BLANK, next: [] });
      setErrors({});
    },
  };
}

/** The checked scratch in the shape in which an install's plan is shown. */
function scratchOut(checked: CheckOut): PlanOut {
  return {
    document: checked.document,
    result: checked.result,
    install: {
      id: "",
      name: "Quick size",
      site: "",
      revision: 0,
      station: "lines",
      shelf: "open",
      next: "",
      stuck_on: "",
      brought_in: "",
      recorded: [],
      changed_at: "",
    },
    unchanged: [],
    can_undo: true,
    can_redo: true,
  };
}
