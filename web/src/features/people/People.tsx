/** The company's people: who may do what, who joins, who has left, and who saw and changed what. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type SubmitEvent, useState } from "react";

import { api, data, type MadeLink, type PeopleOut, type Person } from "../../api/client";
import { Page } from "../../ui/Page";
import { Button, NotShown } from "../../ui/parts";
import { when } from "../../ui/when";
import { useSend } from "../../ui/useSend";

type One = PeopleOut["people"][number];
type Role = One["role"];

const ROLES: Record<Role, string> = {
  lead: "plans, decides, signs, sees to people",
  crew: "records steps, readings, open items",
  reader: "reads and prints",
};
const NAMES = Object.keys(ROLES) as Role[];
const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";
const deed = "min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper";

export function People({ person }: { person: Person }) {
  const client = useQueryClient();
  const { busy, wrong, send } = useSend();
  const [made, setMade] = useState<MadeLink | null>(null);
  const query = useQuery({ queryKey: ["people"], queryFn: async () => data(await api.GET("/api/people")) });
  const take = (found: PeopleOut) => {
    client.setQueryData(["people"], found);
    void client.invalidateQueries({ queryKey: ["trail"] });
  };
  const change = async (path: string, body: unknown = {}) => {
    const found = await send<PeopleOut>(`/api/people/${path}`, body);
    if (found) take(found);
  };
  const link = async (path: string, body: unknown = {}) => {
    const found = await send<MadeLink>(`/api/people/${path}`, body);
    if (!found) return;
    take(found.all);
    setMade(found);
  };
  const found = query.data;
  return (
    <Page title="People">
      {query.isError && !found && <NotShown what="The list of people" />}
      {found && (
        <>
          <p className="mt-1 text-soft">Everybody of {person.company} who may sign in, and what each may do.</p>
          {wrong && (
            <p role="alert" className="mt-2 font-semibold text-stop">
              {wrong}
            </p>
          )}
          <ul className="mt-4">
            {found.people.map((one) => (
              <li key={one.id} className="flex flex-wrap items-center gap-x-5 border-t border-rule py-2 first:border-0">
                <span className="min-w-0 grow basis-60">
                  <b className={one.active ? "" : "text-soft"}>{one.name}</b>
                  <span className="block text-sm text-soft">
                    {one.username}
                    {one.active
                      ? `; ${one.last_seen ? `signed in ${when(one.last_seen)}` : "has not signed in yet"}`
                      : "; has left"}
                    {one.code && "; with a code"}
                  </span>
                </span>
                {one.active ? (
                  <>
                    <select
                      aria-label={`What ${one.name} may do`}
                      className={`${field} max-w-full`}
                      disabled={busy || one.username === person.username}
                      value={one.role}
                      onChange={(event) => void change(`${String(one.id)}/role`, { role: event.target.value })}
                    >
                      {NAMES.map((role) => (
                        <option key={role} value={role}>
                          {role}: {ROLES[role]}
                        </option>
                      ))}
                    </select>
                    <button
                      type="button"
                      className={deed}
                      disabled={busy}
                      onClick={() => void link(`${String(one.id)}/reset`)}
                    >
                      new password …
                    </button>
                    {one.username !== person.username && (
                      <button
                        type="button"
                        className={deed}
                        aria-label={`${one.name} has left`}
                        disabled={busy}
                        onClick={() => void change(`${String(one.id)}/leaving`)}
                      >
                        has left
                      </button>
                    )}
                  </>
                ) : (
                  <button
                    type="button"
                    className={deed}
                    disabled={busy}
                    onClick={() => void change(`${String(one.id)}/return`)}
                  >
                    is there again
                  </button>
                )}
              </li>
            ))}
          </ul>
          <Invite busy={busy} onInvite={(name, role) => void link("links", { name, role })} />
          {made && <Made link={made} onDone={() => setMade(null)} />}
          {found.links.length > 0 && (
            <section aria-label="Links that are open">
              <h2 className="mt-6 text-lg font-bold">Links that are open</h2>
              <ul>
                {found.links.map((one) => (
                  <li key={one.id} className="flex flex-wrap items-center gap-x-5 border-t border-rule first:border-0">
                    <span className="grow">
                      <b>{one.name}</b>{" "}
                      <span className="text-soft">
                        {one.kind === "join" ? `joins as ${one.role}` : "sets a new password"}, until {when(one.until)}
                      </span>
                    </span>
                    <button
                      type="button"
                      className={deed}
                      disabled={busy}
                      onClick={() => void change(`links/${one.id}/withdrawal`)}
                    >
                      take it back
                    </button>
                  </li>
                ))}
              </ul>
            </section>
          )}
          <WhoDid />
        </>
      )}
    </Page>
  );
}

function Invite({ busy, onInvite }: { busy: boolean; onInvite: (name: string, role: Role) => void }) {
  return (
    <form
      className="mt-4 flex flex-wrap items-center gap-2"
      onSubmit={(event: SubmitEvent<HTMLFormElement>) => {
        event.preventDefault();
        const form = new FormData(event.currentTarget);
        const name = (form.get("name") as string).trim();
        if (!name) return;
        onInvite(name, form.get("role") as Role);
        event.currentTarget.reset();
      }}
    >
      <input
        name="name"
        required
        maxLength={200}
        aria-label="Who joins"
        placeholder="Name"
        className={`${field} grow`}
      />
      <select name="role" aria-label="What they may do" className={`${field} max-w-full`} defaultValue="crew">
        {NAMES.map((role) => (
          <option key={role} value={role}>
            {role}: {ROLES[role]}
          </option>
        ))}
      </select>
      <Button type="submit" disabled={busy}>
        Make a link to join
      </Button>
    </form>
  );
}

/** The link, shown once: whoever has it gets in. */
function Made({ link, onDone }: { link: MadeLink; onDone: () => void }) {
  const [copied, setCopied] = useState(false);
  const address = `${window.location.origin}/join/${link.token}`;
  return (
    <section aria-label="The link" className="mt-4 border-y-2 border-copper bg-sheet px-4 py-3">
      <p>
        For <b>{link.name}</b>, once, until {when(link.until)}. It is shown here only now: give it to nobody else.
      </p>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <input readOnly aria-label="Link" className={`${field} grow font-mono text-sm`} value={address} />
        <Button
          kind="main"
          onClick={() => {
            void navigator.clipboard.writeText(address).then(() => setCopied(true));
          }}
        >
          {copied ? "Copied" : "Copy it"}
        </Button>
        <Button onClick={onDone}>Done</Button>
      </p>
    </section>
  );
}

function WhoDid() {
  const query = useQuery({ queryKey: ["trail"], queryFn: async () => data(await api.GET("/api/trail")) });
  const rows = query.data?.rows ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Who saw and changed what">
      <h2 className="mt-8 text-lg font-bold">Who saw and changed what</h2>
      <ul>
        {rows.slice(0, 60).map((row, index) => (
          <li key={index} className="flex flex-wrap gap-x-4 border-t border-rule py-1 first:border-0">
            <span className="w-32 shrink-0 text-soft">{when(row.at)}</span>
            <span className="w-36 shrink-0 font-semibold">{row.name}</span>
            <span>
              {row.did} {row.words}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
