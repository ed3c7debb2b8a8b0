/** Begin an install: by its name, empty or like another; or bring one in from a file. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, type SubmitEvent, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { api, data, freshKey, type InstallOut, type PlanOut, post } from "../../api/client";
import { asBase64 } from "../../ui/files";
import { Button } from "../../ui/parts";
import { inWords } from "../../ui/inWords";

const MOST_BYTES = 5_000_000;
// As base64 within the largest body that the server takes.
const MOST_PACKED_BYTES = 17_000_000;

/** `installs`: those on the board, which one may be like. */
export function Begin({ installs }: { installs: readonly InstallOut[] }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [message, setMessage] = useState<string | null>(null);
  const [name, setName] = useState("");
  const [like, setLike] = useState("");
  const [busy, setBusy] = useState(false);
  // The same words pressed twice are one write: the key is theirs until they change.
  const key = useRef({ of: "", key: "" });
  const templates = useQuery({
    queryKey: ["board", "template"],
    queryFn: async () => data(await api.GET("/api/installs", { params: { query: { shelf: "template" } } })).installs,
  });

  async function create(path: string, body: unknown, of: string) {
    if (key.current.of !== of) key.current = { of, key: freshKey() };
    setBusy(true);
    const answer = await post<PlanOut>(path, key.current.key, body);
    setBusy(false);
    if (answer.kind !== "done") {
      setMessage(inWords(answer));
      return;
    }
    await client.invalidateQueries({ queryKey: ["board"] });
    void navigate(`/installs/${answer.body.install.id}/lines`);
  }
  async function bringIn(event: ChangeEvent<HTMLInputElement>) {
    const input = event.target;
    const file = input.files?.[0];
    if (!file) return;
    setMessage(null);
    if (file.name.toLowerCase().endsWith(".zip")) await bringWhole(file);
    else if (file.size > MOST_BYTES)
      setMessage(`${file.name} is larger than 5 MB; a plan is far smaller. Choose the plan file.`);
    else {
      const text = await file.text();
      try {
        await create("/api/imports", JSON.parse(text), text);
      } catch {
        setMessage(`${file.name} is not readable JSON. Export the plan again, or choose another file.`);
      }
    }
    input.value = "";
  }
  async function bringWhole(file: File) {
    if (file.size > MOST_PACKED_BYTES) {
      setMessage(`${file.name} is larger than 17 MB. An administrator brings it in: ./leitung bring-in.`);
      return;
    }
    const body = { name: file.name, base64: await asBase64(file) };
    await create("/api/packages", body, `${file.name} ${String(file.size)} ${String(file.lastModified)}`);
  }
  function begin(event: SubmitEvent) {
    event.preventDefault();
    setMessage(null);
    const body = { name, ...(like && { like }) };
    void create("/api/installs", body, JSON.stringify(body));
  }
  const kinds = [
    { says: "Templates", rows: templates.data ?? [] },
    { says: "Installs", rows: installs },
  ].filter(({ rows }) => rows.length > 0);
  return (
    <section aria-label="Begin" className="mt-5">
      <form onSubmit={begin} className="flex flex-wrap items-center gap-3">
        <input
          aria-label="Name of the new install"
          placeholder="Name of a new install"
          className="min-h-11 w-64 rounded-xs border-b-2 border-ink/50 bg-transparent px-2 focus:border-copper max-md:w-full"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        {kinds.length > 0 && (
          <select
            aria-label="It begins"
            className="min-h-11 w-52 rounded-xs border-b-2 border-ink/50 bg-transparent px-1 focus:border-copper max-md:w-full"
            value={like}
            onChange={(event) => setLike(event.target.value)}
          >
            <option value="">with an empty plan</option>
            {kinds.map(({ says, rows }) => (
              <optgroup key={says} label={says}>
                {rows.map((row) => (
                  <option key={row.id} value={row.id}>
                    like {row.name}
                  </option>
                ))}
              </optgroup>
            ))}
          </select>
        )}
        <Button type="submit" kind="main" disabled={busy || !name.trim()}>
          Begin
        </Button>
        <label className="flex min-h-11 cursor-pointer items-center underline decoration-faint underline-offset-4 focus-within:outline-3 focus-within:outline-copper hover:decoration-copper md:ml-6">
          Bring in a file
          <input
            type="file"
            accept=".json,application/json,.zip,application/zip"
            className="sr-only"
            onChange={(event) => void bringIn(event)}
          />
        </label>
      </form>
      {message && (
        <p role="alert" className="mt-3 max-w-3xl text-stop">
          {message}
        </p>
      )}
    </section>
  );
}
