/** Does the unit suit the job: a heater against its room, a humidifier against the air, loads on one branch. */
import { useState } from "react";

import type { Answer, Question } from "../../api/client";
import { say, saySize } from "../../drawing/parts";
import type { PlanHandle, Typed } from "../../plan/usePlan";
import { Edit } from "../../ui/Edit";
import { Button, Mark } from "../../ui/parts";
import { Steps } from "../../ui/Steps";
import { useMetric } from "../../ui/units";
import { nextId } from "../../plan/ids";
import { cell, fields, Sentence, yesNo } from "../../ui/fields";
import { Warmup } from "./Warmup";
import { WHO } from "../../ui/caution";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
}

const ASKS = [
  { ask: "heat", name: "A heater and its room", begin: {} },
  { ask: "steam", name: "A humidifier and the air", begin: { options: [] } },
  { ask: "branch", name: "Loads on one branch", begin: { loads: [] } },
] as const;

export function Suit({ plan, readOnly }: Props) {
  const questions = Object.entries(plan.document?.questions ?? {});
  const [open, setOpen] = useState<string | null>(null);
  useMetric();
  return (
    <main className="mt-2 border-t border-rule px-5 pb-16 md:px-7">
      {questions.length === 0 && (
        <div className="py-12">
          <h2 className="text-2xl font-bold">Nothing asked yet</h2>
          <p className="mt-2 max-w-xl text-soft">
            Ask before you buy: whether a heater holds its room, which voltage a humidifier needs, what may share a
            branch.
          </p>
        </div>
      )}
      {questions.map(([id, question]) => (
        <Asked
          key={id}
          id={id}
          question={question}
          answer={plan.plan?.result.answers[id]}
          plan={plan}
          readOnly={readOnly}
          open={open === id}
          onOpen={() => setOpen(open === id ? null : id)}
        />
      ))}
      {!readOnly && (
        <div className="flex flex-wrap items-center gap-2 pt-6">
          <span className="pr-2 font-bold">Ask about</span>
          {ASKS.map(({ ask, name, begin }) => (
            <Button
              key={ask}
              onClick={() => {
                const id = nextId("Q", plan.document?.questions);
                plan.change({ questions: { [id]: { ask, ...begin } } }, `Ask: ${name}`);
              }}
            >
              {name}
            </Button>
          ))}
        </div>
      )}
      <p className="mt-8 max-w-3xl text-sm text-soft">
        Design figures of common practice, not a load calculation: where an answer is close, measure or calculate. {WHO}
      </p>
    </main>
  );
}

interface AskedProps {
  id: string;
  question: Question;
  answer: Answer | undefined;
  plan: PlanHandle;
  readOnly: boolean;
  open: boolean;
  onOpen: () => void;
}

const LOOK = { yes: "text-ink", no: "text-warning", unknown: "text-soft" } as const;

function Asked({ id, question, answer, plan, readOnly, open, onOpen }: AskedProps) {
  const suits = answer?.suits ?? "unknown";
  return (
    <section aria-label={question.name ?? id} className="border-b-2 border-ink py-6">
      <div className="grid gap-x-10 gap-y-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,30rem)]">
        <div>
          <h2 className="text-lg font-bold">{question.name ?? "Not named yet"}</h2>
          <p className={`flex items-start gap-3 text-xl font-semibold ${LOOK[suits]}`}>
            {suits !== "yes" && (
              <span className="pt-1">
                <Mark severity={suits === "no" ? "warning" : "note"} />
              </span>
            )}
            <span>{answer?.verdict ?? "Being worked out …"}</span>
          </p>
          <div className="mt-3">
            {question.ask === "heat" && <HeatWords id={id} question={question} plan={plan} readOnly={readOnly} />}
            {question.ask === "steam" && <SteamWords id={id} question={question} plan={plan} readOnly={readOnly} />}
            {question.ask === "branch" && <BranchWords id={id} question={question} plan={plan} readOnly={readOnly} />}
          </div>
          <p className="mt-2 flex flex-wrap gap-x-6">
            {answer && answer.steps.length > 0 && (
              <button
                type="button"
                aria-expanded={open}
                className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
                onClick={onOpen}
              >
                Why
              </button>
            )}
            {!readOnly && (
              <button
                type="button"
                className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
                onClick={() => plan.change({ questions: { [id]: null } }, "Take the question out")}
              >
                Take it out
              </button>
            )}
          </p>
          {open && answer && <Steps rows={answer.steps} />}
        </div>
        <div>
          {question.ask === "heat" && answer && answer.curve.length > 0 && (
            <Warmup curve={answer.curve} target={question.target_f ?? null} name={question.name ?? id} />
          )}
          {answer && answer.options.length > 0 && <Options answer={answer} />}
          {answer && answer.shares.length > 0 && <Shares answer={answer} />}
          {answer && question.ask === "heat" && <Figures answer={answer} />}
        </div>
      </div>
    </section>
  );
}

function Figures({ answer }: { answer: Answer }) {
  return (
    <dl className="mt-3 grid grid-cols-[1fr_auto]">
      {answer.figures
        .filter((figure) => figure.value != null)
        .map((figure) => (
          <div key={figure.what} className="contents">
            <dt className="border-t border-rule py-1 text-soft">{figure.what}</dt>
            <dd className="border-t border-rule py-1 pl-6 text-right font-bold">
              {say(figure.value, figure.unit, 2)}
              {figure.also && <span className="block text-sm font-normal text-soft">{figure.also}</span>}
            </dd>
          </div>
        ))}
    </dl>
  );
}

/** The voltage options side by side: what each gives against what the air asks for, and its circuit. */
function Options({ answer }: { answer: Answer }) {
  const need = answer.figures[0]?.value ?? null;
  const most = Math.max(need ?? 0, ...answer.options.map((option) => option.gal_per_day));
  return (
    <table className="w-full">
      <thead className="text-left text-sm text-soft">
        <tr>
          <th className="font-normal">connected at</th>
          <th className="font-normal">gives</th>
          <th className="pl-4 text-right font-normal">circuit</th>
        </tr>
      </thead>
      <tbody>
        {answer.options.map((option) => (
          <tr key={`${option.volts} ${option.phase}`} className="border-t border-rule align-top">
            <td className="py-2 pr-4">
              <b className="block text-lg">{say(option.volts, "V")}</b>
              <span className="text-sm text-soft">
                {say(option.amps, "A")}, {say(option.kw, "kW", 2)}
              </span>
            </td>
            <td className="w-1/2 py-2">
              <b className={option.covers === false ? "text-warning" : ""}>
                {say(option.gal_per_day, "gal/day")}
                {option.covers === false && ", too little"}
                {option.on_site === false && ", not on this site"}
              </b>
              <span aria-hidden className="relative mt-1 block h-3">
                <span
                  className={`absolute inset-y-0 left-0 ${option.covers === false ? "bg-faint" : "bg-ink"}`}
                  style={{ width: `${(option.gal_per_day / most) * 100}%` }}
                />
                {need != null && (
                  <span className="absolute -inset-y-1 w-[3px] bg-copper" style={{ left: `${(need / most) * 100}%` }} />
                )}
              </span>
            </td>
            <td className="py-2 pl-4 text-right">
              <b className="block">{say(option.ocpd_a, "A")}</b>
              <span className="text-sm text-soft">{saySize(option.conductor)}</span>
            </td>
          </tr>
        ))}
      </tbody>
      {need != null && (
        <tfoot>
          <tr>
            <td colSpan={3} className="border-t border-rule pt-2 text-sm text-soft">
              The copper mark: the air asks for {say(need, "gal/day")}.
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

/** Each load on the branch against the part that it may take. */
function Shares({ answer }: { answer: Answer }) {
  const most = Math.max(...answer.shares.map((share) => Math.max(share.amps, share.most_a)));
  return (
    <ul>
      {answer.shares.map((share) => (
        <li key={share.name} className="border-t border-rule py-2 first:border-0">
          <p className="flex items-baseline gap-3">
            <b>{share.name}</b>
            <span className="ml-auto text-soft">may take {say(share.most_a, "A")}</span>
            <b className={share.fits ? "" : "text-warning"}>{say(share.amps, "A")}</b>
          </p>
          <span aria-hidden className="relative mt-1 block h-3">
            <span
              className={`absolute inset-y-0 left-0 ${share.fits ? "bg-ink" : "bg-warning"}`}
              style={{ width: `${(share.amps / most) * 100}%` }}
            />
            <span
              className="absolute -inset-y-1 w-[3px] bg-copper"
              style={{ left: `${(share.most_a / most) * 100}%` }}
            />
          </span>
        </li>
      ))}
    </ul>
  );
}

interface WordsProps<Ask extends Question["ask"]> {
  id: string;
  question: Extract<Question, { ask: Ask }>;
  plan: PlanHandle;
  readOnly: boolean;
}

function units(plan: PlanHandle, kinds: readonly string[]) {
  return Object.entries(plan.document?.equipment ?? {})
    .filter(([, unit]) => kinds.includes(unit.kind))
    .map(([value, unit]) => ({ value, label: `${value} ${unit.name ?? ""}`.trim() }));
}

function HeatWords({ id, question, plan, readOnly }: WordsProps<"heat">) {
  const f = fields(plan, `questions/${id}`, readOnly);
  const heaters = units(plan, ["unit_heater", "air_handler", "packaged_heat_pump"]);
  return (
    <Sentence>
      {f.choice("equipment", "Heater", question.equipment, heaters, "which heater")} heats{" "}
      {f.text("name", "Name of the room", question.name, undefined, "which room")}:{" "}
      {f.number("area_ft2", "Floor area", question.area_ft2, "ft²", "area?")},{" "}
      {f.number("height_ft", "Height", question.height_ft, "ft", "height?")} high, insulation{" "}
      {f.choice(
        "insulation",
        "Insulation",
        question.insulation,
        [
          { value: "none", label: "none: bare sheet or boards" },
          { value: "poor", label: "poor: plain masonry, old frame" },
          { value: "fair", label: "fair: insulated, ordinary doors" },
          { value: "good", label: "good: well insulated and tight" },
        ],
        "how good?",
      )}
      ,{" "}
      {f.choice(
        "mass",
        "Mass",
        question.mass,
        [
          { value: "light", label: "little in it" },
          { value: "medium", label: "a slab and shelves" },
          { value: "heavy", label: "masonry or a full store" },
        ],
        "how much in it?",
      )}
      . From {f.number("start_f", "Temperature at the start", question.start_f, "°F", "outdoors")} to{" "}
      {f.number("target_f", "Target temperature", question.target_f, "°F", "target?")} with{" "}
      {f.number("outdoor_f", "Design temperature outdoors", question.outdoor_f, "°F", "design?")} outdoors, another
      system giving {f.number("other_heat_kw", "Heat of another system", question.other_heat_kw, "kW", "nothing")}, at{" "}
      {f.number("price_per_kwh", "Price of a kWh", question.price_per_kwh, undefined, "price?")} per kWh.
    </Sentence>
  );
}

function SteamWords({ id, question, plan, readOnly }: WordsProps<"steam">) {
  const f = fields(plan, `questions/${id}`, readOnly);
  const at = `questions/${id}/options`;
  const rows = question.options;
  const put = (index: number, field: string, value: unknown, entry?: Typed) => {
    const list = [...rows, {}].map((row, i) => (i === index ? { ...row, [field]: value } : row));
    plan.set(
      at,
      list.filter((row) => "volts" in row && row.volts != null),
      "Voltage option",
      entry && { ...entry, field: `${at}/${index}/${field}` },
    );
  };
  return (
    <Sentence>
      {f.choice("equipment", "Humidifier", question.equipment, units(plan, ["steam_humidifier"]), "which humidifier")}{" "}
      serves {f.text("name", "Name of the air", question.name, undefined, "which air")}:{" "}
      {f.number("volume_ft3", "Volume", question.volume_ft3, "ft³", "volume?")},{" "}
      {f.number("air_changes_per_hour", "Air changes", question.air_changes_per_hour, undefined, "how many")} air
      changes an hour. Outdoors {f.number("outdoor_f", "Outdoor temperature", question.outdoor_f, "°F", "temperature?")}{" "}
      at {f.number("outdoor_rh_pct", "Outdoor humidity", question.outdoor_rh_pct, "%", "humidity?")}, indoors{" "}
      {f.number("indoor_f", "Indoor temperature", question.indoor_f, "°F", "temperature?")} at{" "}
      {f.number("indoor_rh_pct", "Indoor humidity", question.indoor_rh_pct, "%", "humidity?")}. It can be connected at{" "}
      {[...rows, null].map((row, index) =>
        row === null && readOnly ? null : (
          <span key={index}>
            {index > 0 && (row ? ", " : ", or ")}
            <Edit
              label={`Option ${index + 1} volts`}
              {...cell(plan, at, index, "volts", readOnly)}
              value={row?.volts}
              unit="V"
              empty="volts"
              onCommit={(value, entry) => put(index, "volts", value, entry)}
            />
            {row && (
              <>
                {" "}
                with{" "}
                <Edit
                  label={`Option ${index + 1} amps`}
                  {...cell(plan, at, index, "amps", readOnly)}
                  value={row.amps}
                  unit="A"
                  empty="amps?"
                  onCommit={(value, entry) => put(index, "amps", value, entry)}
                />{" "}
                giving{" "}
                <Edit
                  label={`Option ${index + 1} output`}
                  {...cell(plan, at, index, "gal_per_day", readOnly)}
                  value={row.gal_per_day}
                  unit="gal/day"
                  empty="by its power"
                  onCommit={(value, entry) => put(index, "gal_per_day", value, entry)}
                />
              </>
            )}
          </span>
        ),
      )}
      .
    </Sentence>
  );
}

function BranchWords({ id, question, plan, readOnly }: WordsProps<"branch">) {
  const f = fields(plan, `questions/${id}`, readOnly);
  const at = `questions/${id}/loads`;
  const rows = question.loads;
  const put = (index: number, field: string, value: unknown, entry?: Typed) =>
    plan.set(
      at,
      rows.map((row, i) => (i === index ? { ...row, [field]: value } : row)),
      "Load",
      entry && { ...entry, field: `${at}/${index}/${field}` },
    );
  return (
    <>
      <Sentence>
        On {f.text("name", "Name of the branch", question.name, undefined, "which branch")}, rated{" "}
        {f.number("branch_a", "Branch rating", question.branch_a, "A", "rating?")}, which{" "}
        {f.choice(
          "other_outlets",
          "Other outlets",
          question.other_outlets,
          yesNo("also serves other outlets", "serves nothing else"),
          "serves what else?",
        )}
        ; the loads{" "}
        {f.choice(
          "load_sharing",
          "Load sharing",
          question.load_sharing,
          yesNo("are kept apart by a load-sharing device", "may run at once"),
          "may run at once",
        )}
        :
      </Sentence>
      <ul>
        {rows.map((row, index) => (
          <li key={index} className="flex flex-wrap items-baseline gap-x-2 border-t border-rule py-1">
            <Edit
              kind="text"
              label={`Load ${index + 1}`}
              {...cell(plan, at, index, "name", readOnly)}
              value={row.name}
              onCommit={(value, entry) =>
                value === undefined
                  ? plan.set(
                      at,
                      rows.filter((_, i) => i !== index),
                      "Take the load out",
                    )
                  : put(index, "name", value, entry)
              }
            />
            <Edit
              label={`Load ${index + 1} amps`}
              {...cell(plan, at, index, "amps", readOnly)}
              value={row.amps}
              unit="A"
              empty="amps?"
              onCommit={(value, entry) => put(index, "amps", value, entry)}
            />
            <PickFlag
              label={`Load ${index + 1}`}
              value={row.plugged_in}
              words={["plugged in", "fastened in place", "plugged in?"]}
              readOnly={readOnly}
              onPick={(value) => put(index, "plugged_in", value)}
            />
            <PickFlag
              label={`Load ${index + 1}`}
              value={row.continuous}
              words={["for three hours or more", "for less than three hours", "for how long?"]}
              readOnly={readOnly}
              onPick={(value) => put(index, "continuous", value)}
            />
          </li>
        ))}
      </ul>
      {!readOnly && (
        <Button
          className="mt-2"
          onClick={() => plan.set(at, [...rows, { name: `load ${rows.length + 1}` }], "Add a load")}
        >
          Add a load
        </Button>
      )}
    </>
  );
}

interface FlagProps {
  label: string;
  value: boolean | null | undefined;
  words: [string, string, string];
  readOnly: boolean;
  onPick: (value: boolean) => void;
}

/** A yes or no that turns over on a click. */
function PickFlag({ label, value, words, readOnly, onPick }: FlagProps) {
  return (
    <button
      type="button"
      disabled={readOnly}
      className={`min-h-9 border-b-2 px-0.5 max-md:min-h-11 ${value == null ? "border-dashed border-ink/50 text-soft" : "border-ink/50 font-semibold"} hover:border-copper`}
      onClick={() => onPick(!value)}
    >
      <span className="sr-only">{label}: </span>
      {value == null ? words[2] : value ? words[0] : words[1]}
    </button>
  );
}
