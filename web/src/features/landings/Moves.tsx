/** What changes from what was found to what is planned, as a list of moves. */
import type { Move } from "../../api/client";

const WORDS: Record<Move["what"], string> = {
  land: "land",
  move: "move",
  cap: "cap",
  "take off": "take off",
  uncap: "uncap",
};

export function Moves({ moves }: { moves: readonly Move[] }) {
  if (moves.length === 0) return null;
  return (
    <section aria-label="Moves" className="mt-5 max-w-3xl">
      <h3 className="border-t-2 border-ink pt-2 font-bold">
        {moves.length} {moves.length === 1 ? "move" : "moves"} from what was found
      </h3>
      <ol>
        {moves.map((move) => (
          <li
            key={`${move.cable} ${move.conductor} ${move.end}`}
            className="flex flex-wrap gap-x-3 border-b border-rule py-1.5"
          >
            <b className="w-20">{move.colour}</b>
            <span className="w-20 text-soft">{WORDS[move.what]}</span>
            <span className="flex-1">
              {move.before} → <b>{move.after}</b>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
