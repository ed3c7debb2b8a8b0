/** An install's plan on screen: what the server computed, with what is still on its way merged over it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState, useSyncExternalStore } from "react";

import {
  api,
  data,
  type FieldProblem,
  type NewsOut,
  type Patch,
  type PlanDoc,
  type PlanOut,
  type RecordOut,
} from "../api/client";
import { renewAnswer } from "../ui/shell";
import { asText } from "../ui/text";
import { merge, patchAt } from "./merge";
import { withNews } from "./news";
import { Outbox, type OutboxState } from "./outbox";
import { readAnew } from "./readAnew";

export interface FieldError {
  typed: string;
  message: string;
  remedy: string;
}

export interface Typed {
  typed: string;
  doubtful: boolean;
  field?: string;
}

export interface PlanHandle {
  plan: PlanOut | undefined;
  document: PlanDoc | undefined;
  loadError: Error | null;
  outbox: OutboxState;
  errors: Readonly<Record<string, FieldError>>;
  notice: string | null;
  change: (patch: Patch, label: string, field?: string) => void;
  /** `entry.field` names the field on screen where it is not the path itself: a cell of a list. */
  set: (path: string, value: unknown, label: string, entry?: Typed) => void;
  /** The revision that holds all that was entered: what the server works out of the plan is asked after it. */
  settled: () => Promise<number>;
  undo: () => void;
  redo: () => void;
  record: (path: string, body: unknown, label: string, field?: string) => void;
  retry: () => void;
  resolve: (mine: boolean) => void;
  forget: (field: string) => void;
  clearNotice: () => void;
}

/** The plan as it stands, or, where `at` names one, as it stood at an earlier revision. */
export function usePlan(id: string, username: string, at: number | null = null): PlanHandle {
  const client = useQueryClient();
  const query = useQuery({
    queryKey: ["plan", id],
    queryFn: async () => data(await api.GET("/api/installs/{install_id}", { params: { path: { install_id: id } } })),
  });
  const earlier = useQuery({
    queryKey: ["earlier", id, at],
    enabled: at !== null,
    queryFn: async () => {
      const path = { install_id: id, number: at ?? 0 };
      return data(await api.GET("/api/installs/{install_id}/revisions/{number}", { params: { path } }));
    },
  });
  const shown = at === null ? query : earlier;
  const [errors, setErrors] = useState<Record<string, FieldError>>({});
  const [notice, setNotice] = useState<string | null>(null);
  const newest = query.data?.install.revision ?? 0;

  const outbox = useMemo(
    () =>
      new Outbox(`leitung:${username}:${id}`, {
        revision: () => client.getQueryData<PlanOut>(["plan", id])?.install.revision ?? 1,
        done(write, body) {
          if (write.path.endsWith("/photos")) {
            void client.invalidateQueries({ queryKey: ["photos", id] });
            return;
          }
          if (write.path.endsWith("/packings") || write.path.endsWith("/forgotten")) {
            client.setQueryData(["packing", id], body);
            void renewAnswer(`/api/installs/${id}/packing`, body);
            return;
          }
          if (write.path.endsWith("/work")) {
            client.setQueryData(["work", id], body);
            void renewAnswer(`/api/installs/${id}/work`, body);
            return;
          }
          const answer = body as PlanOut | NewsOut;
          if ("document" in answer) {
            const whole = complete(answer, client.getQueryData<PlanOut>(["plan", id]));
            if (whole) client.setQueryData(["plan", id], whole);
            else void client.invalidateQueries({ queryKey: ["plan", id] });
            void readAnew(client, ["history", id]);
            void readAnew(client, ["record", id]);
          } else {
            const old = client.getQueryData<RecordOut>(["record", id]);
            const record = old && withNews(old, answer);
            if (record) {
              client.setQueryData(["record", id], record);
              void renewAnswer(`/api/installs/${id}/record`, record);
            } else void readAnew(client, ["record", id]);
            client.setQueryData<PlanOut>(["plan", id], (old) => old && { ...old, install: answer.install });
          }
          void client.invalidateQueries({ queryKey: ["board"] });
          if (write.field) setErrors((old) => without(old, write.field));
        },
        refused(write, problem) {
          const first = problem.errors?.[0];
          const message = first ? sentence(first) : problem.detail;
          const typed = write.typed ?? asText((write.body as { value?: unknown } | undefined)?.value);
          if (write.field) {
            const entry = { typed, message, remedy: first?.remedy ?? "" };
            const field = write.field;
            setErrors((old) => ({ ...old, [field]: entry }));
          } else {
            setNotice(`${write.label}: ${message} ${first?.remedy ?? ""}`.trim());
          }
        },
      }),
    [client, id, username],
  );
  const state = useSyncExternalStore(outbox.subscribe, outbox.read);
  useEffect(() => outbox.attach(id), [outbox, id]);
  // What an earlier page left behind goes out as soon as the plan is there.
  useEffect(() => {
    if (newest) void outbox.flush();
  }, [outbox, newest]);
  useEffect(() => {
    const plan = state.conflict?.plan;
    if (!plan) return;
    client.setQueryData(["plan", id], plan);
  }, [state.conflict, client, id]);
  useEffect(() => {
    const online = () => outbox.retry();
    window.addEventListener("online", online);
    return () => window.removeEventListener("online", online);
  }, [outbox]);

  const document = useMemo(
    () =>
      at === null
        ? query.data &&
          state.waiting.reduce<PlanDoc>(
            (doc, write) => (write.patch && !write.doubtful ? merge(doc, write.patch) : doc),
            query.data.document,
          )
        : earlier.data?.document,
    [at, query.data, earlier.data, state.waiting],
  );
  const base = `/api/installs/${id}`;
  return {
    plan: shown.data,
    document,
    loadError: shown.data ? null : shown.error,
    outbox: state,
    errors,
    notice,
    change: (patch, label, field) => outbox.add({ path: `${base}/patches`, patch, label, field }),
    set: (path, value, label, entry) =>
      outbox.add({ path: `${base}/patches`, patch: patchAt(path, value), label, field: path, ...entry }),
    settled: () => outbox.settled(),
    undo: () => outbox.add({ path: `${base}/undo`, label: "Undo" }),
    redo: () => outbox.add({ path: `${base}/redo`, label: "Redo" }),
    record: (path, body, label, field) =>
      outbox.add({
        path: `${base}/${path}`,
        body: { ...(body as object), noted_at: new Date().toISOString() },
        label,
        field,
      }),
    retry: () => outbox.retry(),
    resolve: (mine) => outbox.resolve(mine),
    forget: (field) => setErrors((old) => without(old, field)),
    clearNotice: () => setNotice(null),
  };
}

/** The answer with the results that it left out because they did not change; null where they are not at hand. */
export function complete(answer: PlanOut, old: PlanOut | undefined): PlanOut | null {
  const left = answer.unchanged;
  if (!left.length) return answer;
  if (!old) return null;
  const { wiring } = answer.result;
  const circuits = kept(under("circuits/", left), old.result.circuits, answer.result.circuits);
  const drawn = kept(under("drawn/", left), old.result.drawn, answer.result.drawn);
  const devices = kept(under("devices/", left), old.result.wiring.devices, wiring.devices);
  const cables = kept(under("cables/", left), old.result.wiring.cables, wiring.cables);
  if (!circuits || !drawn || !devices || !cables) return null;
  const result = { ...answer.result, circuits, drawn, wiring: { ...wiring, devices, cables } };
  return { ...answer, unchanged: [], result };
}

function under(stem: string, paths: readonly string[]): string[] {
  return paths.filter((path) => path.startsWith(stem)).map((path) => path.slice(stem.length));
}

/** What came, and what was left out as it was before; null where that is not at hand. */
function kept<T>(ids: readonly string[], old: Record<string, T>, came: Record<string, T>): Record<string, T> | null {
  if (ids.some((id) => old[id] === undefined)) return null;
  return { ...Object.fromEntries(ids.map((id) => [id, old[id] as T])), ...came };
}

function without<T>(entries: Record<string, T>, field: string | undefined): Record<string, T> {
  return Object.fromEntries(Object.entries(entries).filter(([name]) => name !== field));
}

function sentence(problem: FieldProblem): string {
  const value = problem.value == null ? "" : `“${asText(problem.value)}” `;
  return `${value}${problem.message}.`;
}
