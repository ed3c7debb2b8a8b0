/** Things of which each is one way or the other: pressed, it changes. */
interface Props {
  label: string;
  rows: readonly { id: string; says: string }[];
  on: readonly string[];
  words: readonly [off: string, on: string];
  onChange: (on: string[]) => void;
}

export function Switches({ label, rows, on, words, onChange }: Props) {
  return (
    <ul aria-label={label} className="mt-3">
      {rows.map(({ id, says }) => {
        const pressed = on.includes(id);
        return (
          <li key={id} className="border-t border-rule first:border-0">
            <button
              type="button"
              aria-pressed={pressed}
              className="flex min-h-12 w-full items-center gap-4 py-2 text-left hover:bg-sheet"
              onClick={() => onChange(pressed ? on.filter((other) => other !== id) : [...on, id])}
            >
              <Gap closed={pressed} />
              <span className={`min-w-0 grow ${pressed ? "font-bold" : ""}`}>{says}</span>
              <span className={`w-16 text-right ${pressed ? "font-bold text-copper" : "text-soft"}`}>
                {words[pressed ? 1 : 0]}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** A line that is whole, or has a gap. */
function Gap({ closed }: { closed: boolean }) {
  return (
    <svg
      viewBox="0 0 40 24"
      width="40"
      height="24"
      aria-hidden
      className={`shrink-0 ${closed ? "text-copper" : "text-soft"}`}
    >
      {closed ? (
        <path d="M0 12h40" stroke="currentColor" strokeWidth="4" />
      ) : (
        <path d="M0 12h14M26 12h14M14 12L24 3" stroke="currentColor" strokeWidth="2.2" fill="none" />
      )}
    </svg>
  );
}
