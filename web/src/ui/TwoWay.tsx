/** A switch between two words: the one that holds is underlined. */
interface Props {
  label: string;
  words: readonly [string, string];
  /** Whether the second holds. */
  second: boolean;
  onSwitch: (second: boolean) => void;
}

export function TwoWay({ label, words, second, onSwitch }: Props) {
  const holds = "border-b-2 border-copper text-ink";
  return (
    <button
      type="button"
      role="switch"
      aria-checked={second}
      aria-label={label}
      className="min-h-11 text-soft hover:text-ink"
      onClick={() => onSwitch(!second)}
    >
      <span className={second ? "" : holds}>{words[0]}</span>
      {" / "}
      <span className={second ? holds : ""}>{words[1]}</span>
    </button>
  );
}
