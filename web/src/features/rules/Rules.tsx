/** The rules of this install: edition, local amendments and schools; what another choice would change is shown first. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import {
  type Amendment,
  api,
  type Comparison,
  data,
  type Patch,
  type PlanDoc,
  Refusal,
  type RulebookOut,
  type School,
  type PlanOut,
} from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark, severityColour } from "../../ui/parts";
import { nextId } from "../../plan/ids";
import { fields, Sentence } from "../../ui/fields";
import { TABLE } from "../../ui/Steps";
import { Tables } from "./Tables";
import { useRulebook } from "../../plan/useRulebook";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
}

interface Tried {
  label: string;
  patch: Patch;
}

/** Every table that a line's steps cite, and the lines that cite it. */
function citedAt(circuits: PlanOut["result"]["circuits"]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const [line, { steps }] of Object.entries(circuits))
    for (const cited of new Set(steps.flatMap(({ article }) => article.match(TABLE) ?? [])))
      found.set(cited, [...(found.get(cited) ?? []), line]);
  return found;
}

export function Rules({ plan, readOnly }: Props) {
  const book = useRulebook();
  const [tried, setTried] = useState<Tried | null>(null);
  const id = plan.plan?.install.id ?? "";
  const trial = useMutation({
    mutationFn: async (patch: Patch) =>
      data(
        await api.POST("/api/installs/{install_id}/trials", { params: { path: { install_id: id } }, body: { patch } }),
      ),
  });
  if (!book || !plan.document) return <p className="p-7 text-soft">Reading the rulebook …</p>;
  const attempt = (label: string, patch: Patch) => {
    setTried({ label, patch });
    trial.mutate(patch);
  };
  const { document } = plan;
  return (
    <div className="grid gap-x-12 gap-y-8 border-t border-rule px-5 pt-5 md:px-7 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <div>
        <Edition book={book} document={document} readOnly={readOnly} onTry={attempt} />
        <Amendments book={book} document={document} plan={plan} readOnly={readOnly} onTry={attempt} />
        <Schools book={book} document={document} readOnly={readOnly} onTry={attempt} />
        <section className="mt-10">
          <h2 className="border-t-2 border-ink pt-3 text-lg font-bold">Tables</h2>
          <Tables tables={book.tables} uses={plan.plan && citedAt(plan.plan.result.circuits)} />
        </section>
      </div>
      <aside aria-label="What would change" className="lg:sticky lg:top-4 lg:self-start">
        {tried ? (
          <Effects
            tried={tried}
            found={trial.data}
            error={trial.error}
            readOnly={readOnly}
            onTake={() => {
              plan.change(tried.patch, tried.label);
              setTried(null);
            }}
            onLeave={() => setTried(null)}
          />
        ) : (
          <>
            <h2 className="text-2xl font-bold">What would change</h2>
            <p className="mt-2 text-soft">
              Choose another edition, an amendment or a school: the lines that it changes show here before it counts.
            </p>
          </>
        )}
        <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">
          The adopted edition and its local amendments always win. Ask the local authority.
        </p>
      </aside>
    </div>
  );
}

interface PartProps {
  book: RulebookOut;
  document: PlanDoc;
  readOnly: boolean;
  onTry: (label: string, patch: Patch) => void;
}

function Edition({ book, document, readOnly, onTry }: PartProps) {
  return (
    <section>
      <h2 className="text-lg font-bold">Edition</h2>
      <div className="mt-2 flex flex-wrap gap-2">
        {book.editions.map((edition) => {
          const here = edition.id === document.rulebook;
          return (
            <button
              key={edition.id}
              type="button"
              aria-pressed={here}
              disabled={readOnly || here}
              className={`min-h-11 rounded-sm border px-4 text-left ${here ? "border-b-4 border-copper font-bold" : "border-faint hover:border-copper"}`}
              onClick={() => onTry(edition.title, { rulebook: edition.id })}
            >
              {edition.title}
            </button>
          );
        })}
      </div>
    </section>
  );
}

function Amendments({ book, document, plan, readOnly, onTry }: PartProps & { plan: PlanHandle }) {
  const chosen = document.amendments ?? {};
  const known = Object.entries(book.amendments).filter(([id]) => !(id in chosen));
  return (
    <section className="mt-10">
      <h2 className="border-t-2 border-ink pt-3 text-lg font-bold">Local amendments</h2>
      {Object.keys(chosen).length === 0 && <p className="py-2 text-soft">None: the edition as it was printed.</p>}
      {Object.entries(chosen).map(([id, entry]) => {
        const amendment = entry === "shipped" ? book.amendments[id] : (entry as Amendment);
        if (!amendment) return null;
        return (
          <AmendmentRow key={id} amendment={amendment} book={book}>
            {entry !== "shipped" && <OwnAmendment id={id} amendment={amendment} plan={plan} readOnly={readOnly} />}
            {!readOnly && (
              <Button onClick={() => onTry(`Without: ${amendment.title}`, { amendments: { [id]: null } })}>
                What if it goes
              </Button>
            )}
          </AmendmentRow>
        );
      })}
      {known.length > 0 && <h3 className="pt-5 text-sm text-soft">Known here, not chosen</h3>}
      {known.map(([id, amendment]) => (
        <AmendmentRow key={id} amendment={amendment} book={book}>
          {!readOnly && (
            <Button onClick={() => onTry(amendment.title, { amendments: { [id]: "shipped" } })}>
              What if it holds
            </Button>
          )}
        </AmendmentRow>
      ))}
    </section>
  );
}

interface RowProps {
  amendment: Amendment;
  book: RulebookOut;
  children: React.ReactNode;
}

function AmendmentRow({ amendment, book, children }: RowProps) {
  const days = [
    amendment.holds_from ? `from ${amendment.holds_from}` : "",
    amendment.holds_until ? `until ${amendment.holds_until}` : "",
  ].filter(Boolean);
  return (
    <div className="flex flex-wrap items-start gap-x-6 gap-y-2 border-t border-rule py-3">
      <div className="min-w-64 flex-1">
        <b>{amendment.title}</b>
        <p className="text-sm text-soft">
          {amendment.said_by}, {amendment.said_on}
          {days.length > 0 && `; for permits ${days.join(" ")}`}
        </p>
        <ul className="text-sm">
          {Object.entries(amendment.choices).map(([question, answer]) => (
            <li key={question} className="mt-1">
              <span className="text-soft">{book.schools[question]?.question}:</span>{" "}
              {book.schools[question]?.options[answer]}
            </li>
          ))}
        </ul>
      </div>
      {children}
    </div>
  );
}

function OwnAmendment({
  id,
  amendment,
  plan,
  readOnly,
}: {
  id: string;
  amendment: Amendment;
  plan: PlanHandle;
  readOnly: boolean;
}) {
  const f = fields(plan, `amendments/${id}`, readOnly);
  return (
    <div className="w-full">
      <Sentence>
        Said by {f.text("said_by", "Who said so", amendment.said_by)} on{" "}
        {f.text("said_on", "When it was said", amendment.said_on)}, for permits from{" "}
        {f.text("holds_from", "Holds from", amendment.holds_from, undefined, "any day")} until{" "}
        {f.text("holds_until", "Holds until", amendment.holds_until, undefined, "further notice")}.
      </Sentence>
    </div>
  );
}

/** The questions on which practice differs; choosing another answer is an amendment that says who said so. */
function Schools({ book, document, readOnly, onTry }: PartProps) {
  const inForce: Record<string, string> = {};
  for (const [id, entry] of Object.entries(document.amendments ?? {})) {
    const amendment = entry === "shipped" ? book.amendments[id] : (entry as Amendment);
    Object.assign(inForce, amendment?.choices ?? {});
  }
  return (
    <section className="mt-10">
      <h2 className="border-t-2 border-ink pt-3 text-lg font-bold">Where practice differs</h2>
      <p className="text-soft">Leitung takes the safe side unless an amendment says otherwise.</p>
      {Object.entries(book.schools).map(([question, school]) => (
        <Question
          key={question}
          school={school}
          answer={inForce[question] ?? school.default}
          readOnly={readOnly}
          onChoose={(answer) => {
            const id = nextId("local", document.amendments);
            const amendment = {
              title: school.question,
              said_by: "not recorded yet: enter who said so",
              said_on: new Date().toISOString().slice(0, 10),
              choices: { [question]: answer },
            };
            onTry(school.question, { amendments: { [id]: amendment } });
          }}
        />
      ))}
    </section>
  );
}

interface QuestionProps {
  school: School;
  answer: string;
  readOnly: boolean;
  onChoose: (answer: string) => void;
}

function Question({ school, answer, readOnly, onChoose }: QuestionProps) {
  return (
    <div className="border-t border-rule py-3">
      <p>
        <b>{school.question}</b> <span className="text-sm text-soft">{school.article}</span>
      </p>
      <ul className="mt-1">
        {Object.entries(school.options).map(([key, text]) => {
          const here = key === answer;
          return (
            <li key={key}>
              <button
                type="button"
                aria-pressed={here}
                disabled={readOnly || here}
                className={`min-h-9 border-l-4 pl-3 text-left max-md:min-h-11 ${here ? "border-copper font-semibold" : "border-rule text-soft hover:border-ink hover:text-ink"}`}
                onClick={() => onChoose(key)}
              >
                {text}
                {key === school.default && <span className="text-sm font-normal text-soft"> our default</span>}
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

interface EffectsProps {
  tried: Tried;
  found: Comparison | undefined;
  error: Error | null;
  readOnly: boolean;
  onTake: () => void;
  onLeave: () => void;
}

function Effects({ tried, found, error, readOnly, onTake, onLeave }: EffectsProps) {
  return (
    <>
      <h2 className="text-2xl font-bold">{tried.label}</h2>
      {error && (
        <p className="mt-2 text-warning">
          {error instanceof Refusal ? error.message : "Leitung does not answer. Try again."}
        </p>
      )}
      {!found && !error && <p className="mt-2 text-soft">Working it out …</p>}
      {found && <Differences found={found} />}
      {!readOnly && (
        <div className="mt-4 flex gap-2">
          <Button kind="main" disabled={!found} onClick={onTake}>
            Let it count
          </Button>
          <Button onClick={onLeave}>Leave it</Button>
        </div>
      )}
    </>
  );
}

function Differences({ found }: { found: Comparison }) {
  if (found.figures.length + found.comes.length + found.goes.length === 0)
    return <p className="mt-2 text-lg">No line of this install changes.</p>;
  const lines = [...new Set(found.figures.map((row) => row.circuit))];
  return (
    <>
      {lines.map((circuit) => (
        <div key={circuit} className="mt-3 border-t border-rule pt-2">
          <b>{circuit}</b>
          {found.figures
            .filter((row) => row.circuit === circuit)
            .map((row) => (
              <p key={row.what} className="flex justify-between gap-4">
                <span className="text-soft">{row.what}</span>
                <span>
                  <span className="text-soft line-through">{row.before}</span> <b>{row.after}</b>
                </span>
              </p>
            ))}
        </div>
      ))}
      {(["comes", "goes"] as const).map(
        (way) =>
          found[way].length > 0 && (
            <div key={way} className="mt-3">
              <h3 className="border-t-2 border-ink pt-2 font-bold">
                {way === "comes" ? "Findings that come" : "Findings that go"}
              </h3>
              {found[way].map((finding) => (
                <p
                  key={`${finding.code} ${finding.about}`}
                  className={`flex gap-2 py-1 ${way === "goes" ? "text-soft line-through" : severityColour[finding.severity]}`}
                >
                  <Mark severity={finding.severity} />
                  <span>
                    {finding.about.split("/")[1]}: {finding.message}
                  </span>
                </p>
              ))}
            </div>
          ),
      )}
    </>
  );
}
