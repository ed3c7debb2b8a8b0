/** One's own account: password, a code beside it, the sessions that are open. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type SubmitEvent, useState } from "react";

import { type Account as Own, api, data, type NewCode, type Session, setToken } from "../../api/client";
import { Page } from "../../ui/Page";
import { Button, NotShown } from "../../ui/parts";
import { when } from "../../ui/when";
import { useSend } from "../../ui/useSend";

const field = "min-h-11 w-full border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

export function Account() {
  const client = useQueryClient();
  const query = useQuery({ queryKey: ["account"], queryFn: async () => data(await api.GET("/api/account")) });
  const { busy, wrong, send } = useSend();
  const [said, setSaid] = useState("");
  const [code, setCode] = useState<NewCode | null>(null);
  const [spare, setSpare] = useState<string[] | null>(null);
  const take = (found: Own | null) => {
    if (found) client.setQueryData(["account"], found);
  };
  const own = query.data;
  if (query.isError && !own) return <NotShown what="Your account" />;
  return (
    <Page title="Your account">
      {own && (
        <div className="max-w-2xl">
          <p className="mt-1 text-soft">
            {own.name}, signed in as {own.username}.
          </p>
          {wrong && (
            <p role="alert" className="mt-2 font-semibold text-stop">
              {wrong}
            </p>
          )}
          {said && (
            <p role="status" className="mt-2 font-semibold">
              {said}
            </p>
          )}
          <h2 className="mt-6 text-lg font-bold">Password</h2>
          <Filled
            names={[
              ["old", "The one you have"],
              ["password", "The new one, twelve characters or more"],
            ]}
            done="Change it"
            busy={busy}
            onDone={async (typed) => {
              const found = await send<Session>("/api/account/password", typed);
              if (!found) return false;
              setToken(found.csrf_token);
              setSaid("Changed. Every other session has ended.");
              await client.invalidateQueries({ queryKey: ["account"] });
              return true;
            }}
          />
          <h2 className="mt-8 text-lg font-bold">A code beside the password</h2>
          {own.code && !spare ? (
            <>
              <p className="text-soft">At sign-in a code of your device is asked for.</p>
              <Filled
                names={[["password", "Your password"]]}
                done="Ask for no code any more"
                busy={busy}
                onDone={async (typed) => {
                  take(await send<Own>("/api/account/code/removal", typed));
                  return true;
                }}
              />
            </>
          ) : code ? (
            <>
              <p className="text-soft">
                Let the device that makes codes read this picture, or type into it{" "}
                <b className="font-mono">{code.secret}</b>. Then give the code that it shows.
              </p>
              <img
                alt="The secret as a picture"
                className="my-3 size-52 bg-white p-2"
                src={`data:image/svg+xml;utf8,${encodeURIComponent(withNamespace(code.picture))}`}
              />
              <Filled
                names={[["code", "The code"]]}
                plain
                done="Ask for it from now on"
                busy={busy}
                onDone={async (typed) => {
                  const found = await send<{ codes: string[] }>("/api/account/code/confirmation", typed);
                  if (!found) return false;
                  setSpare(found.codes);
                  setCode(null);
                  await client.invalidateQueries({ queryKey: ["account"] });
                  return true;
                }}
              />
            </>
          ) : spare ? (
            <section aria-label="Spare codes">
              <p>For a lost device, each good once. They are shown only now: keep them on paper.</p>
              <p className="my-2 grid w-fit grid-cols-2 gap-x-8 font-mono text-lg">
                {spare.map((one) => (
                  <span key={one}>{one}</span>
                ))}
              </p>
              <Button kind="main" onClick={() => setSpare(null)}>
                I have them
              </Button>
            </section>
          ) : (
            <>
              <p className="text-soft">A device shows a code of the moment; a stolen password alone lets nobody in.</p>
              <Filled
                names={[["password", "Your password"]]}
                done="Set it up"
                busy={busy}
                onDone={async (typed) => {
                  const found = await send<NewCode>("/api/account/code", typed);
                  setCode(found);
                  return found !== null;
                }}
              />
            </>
          )}
          <h2 className="mt-8 text-lg font-bold">Where you are signed in</h2>
          <ul>
            {own.sessions.map((one) => (
              <li key={one.id} className="flex flex-wrap items-center gap-x-5 border-t border-rule py-1 first:border-0">
                <span className="min-w-0 grow basis-60">
                  <b>{one.here ? "Here" : "Elsewhere"}</b>, since {when(one.at)}
                  <span className="block truncate text-sm text-soft">{one.agent || "an unnamed program"}</span>
                </span>
                {!one.here && (
                  <Button
                    disabled={busy}
                    onClick={() => {
                      void send<Own>(`/api/account/sessions/${one.id}/end`, {}).then(take);
                    }}
                  >
                    End it
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </div>
      )}
    </Page>
  );
}

/** An image of its own needs to say what it is. */
function withNamespace(svg: string): string {
  return svg.includes("xmlns=") ? svg : svg.replace("<svg", '<svg xmlns="http://www.w3.org/2000/svg"');
}

interface FilledProps {
  names: readonly (readonly [string, string])[];
  done: string;
  busy: boolean;
  plain?: boolean;
  onDone: (typed: Record<string, string>) => Promise<boolean>;
}

function Filled({ names, done, busy, plain = false, onDone }: FilledProps) {
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-3"
      onSubmit={(event: SubmitEvent<HTMLFormElement>) => {
        event.preventDefault();
        const form = event.currentTarget;
        const typed = Object.fromEntries(new FormData(form)) as Record<string, string>;
        void onDone(typed).then((kept) => {
          if (kept) form.reset();
        });
      }}
    >
      {names.map(([name, label]) => (
        <label key={name} className="grow basis-52 text-soft">
          {label}
          <input
            name={name}
            required
            type={plain ? "text" : "password"}
            inputMode={plain ? "numeric" : undefined}
            autoComplete={
              plain ? "one-time-code" : name === "password" && names.length > 1 ? "new-password" : "current-password"
            }
            className={`${field} text-ink`}
          />
        </label>
      ))}
      <Button type="submit" disabled={busy}>
        {done}
      </Button>
    </form>
  );
}
