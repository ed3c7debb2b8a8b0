/** For others: links that open one thing of the install without an account, until a day, and can be taken back. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type SubmitEvent, useState } from "react";

import { api, data, type PlanDoc, type ReaderLinkOut } from "../../api/client";
import { Button } from "../../ui/parts";
import { useSend } from "../../ui/useSend";
import { when } from "../../ui/when";

type Scope = ReaderLinkOut["scope"];

const SCOPES: Record<Scope, { name: string; says: string; days: number }> = {
  record: { name: "The record", says: "the record and its PDF, for an inspector", days: 90 },
  customer: {
    name: "The customer’s page",
    says: "what was installed, what to do when it stops, what is due",
    days: 730,
  },
  line: { name: "One line", says: "the sheet of one line", days: 90 },
  device: { name: "One device", says: "what lands at one device", days: 90 },
  labels: {
    name: "The codes on the labels",
    says: "each opens the sheet of its own line, for whoever stands there",
    days: 3650,
  },
};
const NAMES = Object.keys(SCOPES) as Scope[];
const DAY_MS = 86_400_000;
const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";
const dayAfter = (days: number) => new Date(Date.now() + days * DAY_MS).toISOString().slice(0, 10);

export function Links({ id, document }: { id: string; document: PlanDoc | undefined }) {
  const client = useQueryClient();
  const key = ["links", id];
  const query = useQuery({
    queryKey: key,
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/links", { params: { path: { install_id: id } } })),
  });
  const { busy, wrong, send } = useSend();
  const [making, setMaking] = useState(false);
  async function change(path: string, body: unknown): Promise<boolean> {
    const found = await send<ReaderLinkOut[]>(`/api/installs/${id}/links${path}`, body);
    if (found) client.setQueryData(key, found);
    return found !== null;
  }
  const rows = query.data?.filter((link) => link.serves) ?? [];
  return (
    <section aria-label="For others" className="mt-8">
      <h2 className="text-xl font-bold">For others</h2>
      <p className="mt-1 text-soft">
        A link opens one thing without an account, until a day, and can be taken back. Whoever has it can read it.
      </p>
      {wrong && (
        <p role="alert" className="mt-2 font-semibold text-stop">
          {wrong}
        </p>
      )}
      <ul className="mt-1">
        {rows.map((link) => (
          <One key={link.id} link={link} busy={busy} onEnd={() => void change(`/${link.id}/ending`, {})} />
        ))}
      </ul>
      {making ? (
        <Make
          document={document}
          busy={busy}
          onMake={async (body) => {
            if (await change("", body)) setMaking(false);
          }}
          onLeave={() => setMaking(false)}
        />
      ) : (
        <Button className="mt-2" onClick={() => setMaking(true)}>
          Make a link
        </Button>
      )}
    </section>
  );
}

function One({ link, busy, onEnd }: { link: ReaderLinkOut; busy: boolean; onEnd: () => void }) {
  const [said, setSaid] = useState("");
  const { address } = link;
  async function copy() {
    try {
      await navigator.clipboard.writeText(address ?? "");
      setSaid("Copied.");
    } catch {
      setSaid("Mark the address and copy it.");
    }
  }
  return (
    <li className="border-t border-rule py-2 first:border-0">
      <b>{SCOPES[link.scope].name}</b> {link.about && <b>{link.about}</b>}{" "}
      <span className="text-soft">for {link.name}</span>
      <span className="block text-sm text-soft">
        until {link.until.slice(0, 10)}; {opened(link)}
      </span>
      {address && <span className="block text-sm break-all select-all">{address}</span>}
      <span className="flex flex-wrap items-center gap-x-5">
        {address && (
          <button
            type="button"
            className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={() => void copy()}
          >
            Copy the address
          </button>
        )}
        <button
          type="button"
          disabled={busy}
          className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
          onClick={onEnd}
        >
          Take it back
        </button>
        <span role="status" className="text-sm text-soft">
          {said}
        </span>
      </span>
    </li>
  );
}

function opened({ looks, last_look: last }: ReaderLinkOut): string {
  if (!looks || !last) return "not opened yet";
  return `opened ${looks === 1 ? "once" : `${looks} times`}, last ${when(last)}`;
}

interface MakeProps {
  document: PlanDoc | undefined;
  busy: boolean;
  onMake: (body: unknown) => Promise<void>;
  onLeave: () => void;
}

function Make({ document, busy, onMake, onLeave }: MakeProps) {
  const [scope, setScope] = useState<Scope>("record");
  const [until, setUntil] = useState(dayAfter(SCOPES.record.days));
  const things = scope === "line" ? Object.keys(document?.circuits ?? {}) : Object.keys(document?.devices ?? {});
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const about = form.get("about") as string | null;
    const warranty = form.get("warranty") as string | null;
    void onMake({
      scope,
      about: about ?? "",
      name: form.get("name"),
      until: `${until}T23:59:59Z`,
      warranty_until: warranty ? warranty : null,
    });
  }
  return (
    <form onSubmit={submit} className="mt-3 grid max-w-md gap-3 border-l-4 border-copper bg-sheet px-4 py-3">
      <label className="block">
        What it opens
        <select
          className={`${field} block w-full`}
          value={scope}
          onChange={(event) => {
            const chosen = event.target.value as Scope;
            setScope(chosen);
            setUntil(dayAfter(SCOPES[chosen].days));
          }}
        >
          {NAMES.map((name) => (
            <option key={name} value={name}>
              {SCOPES[name].name}
            </option>
          ))}
        </select>
        <span className="block text-sm text-soft">{SCOPES[scope].says}</span>
      </label>
      {(scope === "line" || scope === "device") && (
        <label className="block">
          Which one
          <select name="about" className={`${field} block w-full`}>
            {things.map((thing) => (
              <option key={thing}>{thing}</option>
            ))}
          </select>
        </label>
      )}
      <label className="block">
        For whom
        <input name="name" required maxLength={200} autoComplete="off" className={`${field} block w-full`} />
      </label>
      <label className="block">
        Until
        <input
          type="date"
          required
          className={`${field} block`}
          value={until}
          onChange={(event) => setUntil(event.target.value)}
        />
      </label>
      {scope === "customer" && (
        <label className="block">
          Warranty until, where there is one
          <input name="warranty" type="date" className={`${field} block`} />
        </label>
      )}
      <p className="flex flex-wrap gap-3">
        <Button kind="main" type="submit" disabled={busy}>
          Make it
        </Button>
        <Button onClick={onLeave}>Leave it</Button>
      </p>
    </form>
  );
}
