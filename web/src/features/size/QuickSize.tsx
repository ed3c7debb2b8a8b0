/** Quick size: one line without an install. Type what the plate says, read the answer, copy it into an install. */
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { Link } from "react-router";

import { api, data, freshKey, type Person, type PlanDoc, type PlanOut, post } from "../../api/client";
import { Banners } from "../../ui/Banners";
import { Page } from "../../ui/Page";
import { say, saySize } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { useRulebook } from "../../plan/useRulebook";
import { Choice } from "../../ui/Edit";
import { Button } from "../../ui/parts";
import { useMetric } from "../../ui/units";
import { copyPatch } from "../../plan/copyLine";
import { fields, PHASES, Sentence } from "../../ui/fields";
import { KINDS } from "../../plan/kinds";
import { useScratch } from "./useScratch";

interface Props {
  person: Person;
  /** The scratch line drawn large, beside its reasons. */
  draw: (plan: PlanHandle) => ReactNode;
}

export function QuickSize({ person, draw }: Props) {
  const { plan, size, clear } = useScratch();
  useMetric();
  useKeys(plan.undo, plan.redo);
  const result = plan.plan?.result.circuits.Q;
  const supply = fields(plan, "sources/P", false);
  const unit = fields(plan, "equipment/U", false);
  const root = fields(plan, "", false);
  const document = plan.document;
  const editions = useRulebook()?.editions.map(({ id, title }) => ({ value: id, label: title })) ?? [];
  const source = document?.sources?.P;
  const found = document?.equipment?.U;
  return (
    <Page title="Quick size" wide>
      <section aria-label="Quick size" className="px-5 pt-4 md:px-7">
        <h1 className="text-3xl font-bold">{answer(result)}</h1>
        <Sentence>
          A {unit.choice("kind", "Kind of unit", found?.kind, KINDS)} on{" "}
          {supply.number("volts", "Supply volts", source?.volts, "V", "volts?")},{" "}
          {supply.choice("phase", "Supply phases", source?.phase, PHASES, "phases?")},{" "}
          {supply.number("volts_to_ground", "Volts to ground", source?.volts_to_ground, "V", "volts?")} to ground, by{" "}
          {root.choice("rulebook", "Edition", document?.rulebook, editions)}. Select the unit to type its plate, the
          conductor to type its run.
        </Sentence>
        <div className="mt-2 flex flex-wrap gap-2">
          {person.may.includes("plan") && document && <CopyInto document={document} />}
          <CopySize size={size} />
          <Button onClick={clear}>Begin afresh</Button>
        </div>
      </section>
      <Banners plan={plan} />
      {draw(plan)}
    </Page>
  );
}

type Result = PlanOut["result"]["circuits"][string] | undefined;

function answer(result: Result): string {
  if (!result || result.min_ampacity_a == null) return "Quick size";
  const parts = [
    `Carry ${say(result.min_ampacity_a, "A", 2)}`,
    result.ocpd_a == null ? "" : `${say(result.ocpd_a, "A")} device`,
    result.conductor ? `${saySize(result.conductor)} at least` : "",
    result.cord ? `cord ${saySize(result.cord)}` : "",
  ];
  return parts.filter(Boolean).join(", ");
}

/** The size document, as the command line and the API take it. */
function CopySize({ size }: { size: unknown }) {
  const [said, setSaid] = useState("");
  if (!size) return null;
  return (
    <>
      <Button
        onClick={() => {
          void navigator.clipboard
            .writeText(JSON.stringify(size, null, 2))
            .then(() => setSaid("Copied: ./leitung size - reads it."))
            .catch(() => setSaid("This browser does not let it be copied."));
        }}
      >
        Copy the size document
      </Button>
      <p role="status" className="self-center text-sm text-soft">
        {said}
      </p>
    </>
  );
}

/** Copy the line into an install, under ids that are free there. */
function CopyInto({ document }: { document: PlanDoc }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [said, setSaid] = useState<{ id: string; text: string } | null>(null);
  const board = useQuery({
    queryKey: ["board", "all"],
    queryFn: async () => data(await api.GET("/api/installs", { params: { query: {} } })).installs,
  });
  async function copy(id: string) {
    setChosen(id);
    const plan = await api.GET("/api/installs/{install_id}", { params: { path: { install_id: id } } });
    if (!plan.data) return;
    const patch = copyPatch(document, plan.data.document);
    const sent = await post<PlanOut>(`/api/installs/${id}/patches`, freshKey(), {
      base_revision: plan.data.install.revision,
      patch,
    });
    const name = plan.data.install.name;
    setSaid(
      sent.kind === "done"
        ? { id, text: `It is a line of ${name} now` }
        : { id: "", text: "It was not copied. Nothing is lost; try again." },
    );
    setChosen(null);
  }
  if (said)
    return (
      <p role="status" className="flex min-h-11 items-center gap-3 font-semibold">
        {said.id ? (
          <Link className="underline" to={`/installs/${said.id}/lines`}>
            {said.text}
          </Link>
        ) : (
          said.text
        )}
      </p>
    );
  return (
    <span className="flex min-h-11 items-center border-b-2 border-ink px-1 font-semibold">
      <Choice
        label="Copy into an install"
        path="copy"
        value={chosen}
        empty="Copy into an install"
        options={(board.data ?? []).map((install) => ({ value: install.id, label: install.name }))}
        onCommit={(value) => void copy(String(value))}
      />
    </span>
  );
}

function useKeys(undo: () => void, redo: () => void) {
  useEffect(() => {
    function key(event: KeyboardEvent) {
      const typing = (event.target as HTMLElement).closest("[data-typed], textarea");
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || typing) return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    }
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  });
}
