/** Behind a link: somebody joins, or sets a new password. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { SubmitEvent } from "react";
import { useNavigate, useParams } from "react-router";

import { api, data, type Session, setToken } from "../../api/client";
import { Button, Message } from "../../ui/parts";
import { seenBy } from "../../ui/shell";
import { Wordmark } from "../../ui/Wordmark";
import { useSend } from "../../ui/useSend";

const field = "mt-1 block min-h-12 w-full rounded-xs border-2 border-ink/50 bg-sheet px-3 text-lg focus:border-copper";

export function Join() {
  const { token = "" } = useParams();
  const client = useQueryClient();
  const navigate = useNavigate();
  const { busy, wrong, send } = useSend();
  const query = useQuery({
    queryKey: ["link", token],
    queryFn: async () => data(await api.GET("/api/links/{token}", { params: { path: { token } } })),
    retry: false,
    staleTime: Infinity,
  });
  if (query.isError)
    return (
      <Message title="This link serves no more">
        <p>It was used already, taken back, or its time is over. Ask your crew lead for another one.</p>
      </Message>
    );
  const link = query.data;
  if (!link) return null;
  const joins = link.kind === "join";
  async function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const typed = new FormData(event.currentTarget);
    const username = typed.get("username") as string | null;
    const body = { password: typed.get("password"), ...(username ? { username: username.trim() } : {}) };
    const found = await send<Session>(`/api/links/${token}`, body);
    if (!found) return;
    if (found.person) await seenBy(found.person.username);
    setToken(found.csrf_token);
    client.setQueryData(["session"], found);
    await navigate("/");
  }
  return (
    <main className="mx-auto flex min-h-screen max-w-md flex-col gap-8 p-8 pt-16">
      <Wordmark />
      <form onSubmit={(event) => void submit(event)}>
        <h1 className="text-2xl font-bold">{joins ? `Join ${link.company}` : "A new password"}</h1>
        <p className="mt-1 text-soft">
          {joins ? `For ${link.name}.` : `For ${link.name}, who signs in as ${link.username ?? ""}.`}
        </p>
        {joins && (
          <label className="mt-5 block font-semibold">
            Name to sign in with
            <input
              name="username"
              className={field}
              required
              autoFocus
              autoComplete="username"
              autoCapitalize="none"
              pattern="[A-Za-z0-9][A-Za-z0-9._\-]{1,59}"
              title="Letters, digits, dots and dashes"
            />
          </label>
        )}
        <label className="mt-5 block font-semibold">
          Password, twelve characters or more
          <input
            name="password"
            type="password"
            className={field}
            required
            minLength={12}
            autoComplete="new-password"
          />
        </label>
        <p role="alert" className="mt-3 min-h-6 text-stop">
          {wrong}
        </p>
        <Button kind="main" type="submit" className="mt-2 min-h-12 w-full text-lg" disabled={busy}>
          {joins ? "Join" : "Set it"}
        </Button>
      </form>
    </main>
  );
}
