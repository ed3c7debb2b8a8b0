/** A list as CSV: chosen as a file or pasted. Nothing is half taken, and what was pasted stays. */
import { type ReactNode, useState } from "react";

import { freshKey, post, type Problem } from "../api/client";
import { NothingTaken } from "./NothingTaken";
import { Button } from "./parts";

interface Props<T> {
  name: string;
  /** What the button says that opens it. */
  open: string;
  intro: ReactNode;
  path: string;
  body: (csv: string) => unknown;
  /** After it was taken in: what is said of it. */
  done: (answer: T) => string;
}

export function BringList<T>({ name, open: label, intro, path, body, done }: Props<T>) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [refused, setRefused] = useState<Problem | null>(null);
  const [said, setSaid] = useState("");
  async function bring() {
    setSaid("");
    const sent = await post<T>(path, freshKey(), body(text));
    setRefused(sent.kind === "refused" ? sent.problem : null);
    if (sent.kind === "unreachable") setSaid("Leitung does not answer. The list is kept here; try again.");
    if (sent.kind === "done") {
      setSaid(done(sent.body));
      setText("");
    }
  }
  if (!open)
    return (
      <Button className="mt-4" onClick={() => setOpen(true)}>
        {label}
      </Button>
    );
  return (
    <section aria-label={label} className="mt-5 max-w-4xl border-t-2 border-ink pt-3">
      <h2 className="text-lg font-bold">{name}</h2>
      <p className="text-soft">{intro}</p>
      <input
        type="file"
        accept=".csv,text/csv"
        aria-label={`${name} as a file`}
        className="mt-3 block min-h-11"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void file.text().then(setText);
        }}
      />
      <textarea
        aria-label={name}
        className="mt-2 block h-40 w-full border-2 border-ink/50 bg-sheet p-2 font-mono text-sm focus:border-copper"
        spellCheck={false}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {refused && <NothingTaken refused={refused} />}
      <p role="status" className="mt-2">
        {said}
      </p>
      <div className="mt-2 flex gap-2">
        <Button kind="main" disabled={!text.trim()} onClick={() => void bring()}>
          Take it in
        </Button>
        <Button onClick={() => setOpen(false)}>Close</Button>
      </div>
    </section>
  );
}
