/** What a start's answer says: its ways out, what was looked at, what is left. */
import type { StartOut } from "../api/client";
import { moment } from "../drawing/start";
import { Button } from "./parts";

export function failing(verdict: StartOut["verdict"]): boolean {
  return verdict === "trips" || verdict === "stalls" || verdict === "overloads";
}

export function severityOf(verdict: StartOut["verdict"]): "stop" | "warning" | "note" {
  return failing(verdict) ? "stop" : verdict === "starts" ? "note" : "warning";
}

type Way = StartOut["ways_out"][number];

export function Ways({ answer, onTry }: { answer: StartOut; onTry: (way: Way, index: number) => void }) {
  const open = failing(answer.verdict) || answer.verdict === "may_trip";
  if (!answer.ways_out.length)
    return open ? (
      <p className="mt-4 font-semibold">
        No change that was tried starts it: a larger source, fewer loads at once, or both.
      </p>
    ) : null;
  return (
    <section aria-label="Ways out">
      <h2 className="mt-5 border-t-2 border-ink pt-3 text-lg font-bold">Ways out, each tried</h2>
      {answer.ways_out.map((way, index) => (
        <div key={way.says} className="flex items-center gap-3 border-t border-rule py-2 first-of-type:border-0">
          <p className="grow">{way.says}</p>
          <Button kind="main" className="shrink-0" onClick={() => onTry(way, index)}>
            Try it
          </Button>
        </div>
      ))}
    </section>
  );
}

export function LookedAt({ answer }: { answer: StartOut }) {
  if (!answer.why.length) return null;
  return (
    <section aria-label="What was looked at">
      <h2 className="mt-5 border-t-2 border-ink pt-3 text-lg font-bold">What was looked at</h2>
      {answer.why.map((row) => (
        <p key={`${row.about} ${row.says}`} className="border-t border-rule py-2 first-of-type:border-0">
          <b>{row.about}</b>, {moment(row.at_s)}: {row.says}{" "}
          <span className="text-soft">
            ({row.value.toFixed(1)} of {row.limit.toFixed(1)} {row.unit})
          </span>
        </p>
      ))}
      <Starts answer={answer} />
      <Left answer={answer} />
    </section>
  );
}

/** What each motor's start leaves at itself, and what the others on its leg see of it. */
function Starts({ answer }: { answer: StartOut }) {
  const motors = answer.picture.starts.filter(({ part }) => part === "compressor");
  return motors.map((row) => (
    <p key={`${row.load} ${String(row.at_s)}`} className="border-t border-rule py-2">
      <b>{row.load}</b> comes up with {row.volts.toFixed(1)} V at the unit; everything else on its leg dips by{" "}
      {row.dips_v.toFixed(1)} V ({(row.dips_share * 100).toFixed(1)} %)
    </p>
  ));
}

/** What is left for everything else, leg by leg. */
function Left({ answer }: { answer: StartOut }) {
  const known = answer.legs.filter((leg) => leg.left_a != null);
  if (!known.length) return null;
  return (
    <p className="border-t border-rule py-2">
      Left for everything else: {known.map((leg) => `leg ${String(leg.leg)}: ${leftOver(leg.left_a ?? 0)}`).join(", ")}
      {answer.supply.runs_h != null && `; a full battery lasts ${answer.supply.runs_h.toFixed(1)} h`}
    </p>
  );
}

function leftOver(amps: number): string {
  return amps < 0 ? `${(-amps).toFixed(1)} A short` : `${amps.toFixed(1)} A`;
}
