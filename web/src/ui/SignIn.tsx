/** Sign-in. */
import { useQueryClient } from "@tanstack/react-query";
import { type SubmitEvent, useState } from "react";

import { api, type Problem, setToken } from "../api/client";
import { Button } from "./parts";
import { seenBy } from "./shell";
import { Wordmark } from "./Wordmark";
import { QUALIFIED } from "./caution";

export function SignInForm({ onDone }: { onDone?: () => void }) {
  const client = useQueryClient();
  const [message, setMessage] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [asked, setAsked] = useState(false);

  async function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setBusy(true);
    try {
      // A token from a session that has ended would be refused.
      const fresh = await api.GET("/api/session");
      if (fresh.data) setToken(fresh.data.csrf_token);
      const code = form.get("code") as string | null;
      const body = {
        username: form.get("username") as string,
        password: form.get("password") as string,
        ...(code ? { code: code.trim() } : {}),
      };
      const answer = await api.POST("/api/session", { body });
      if (answer.data) {
        await seenBy(body.username);
        setToken(answer.data.csrf_token);
        client.setQueryData(["session"], answer.data);
        onDone?.();
      } else {
        const problem = answer.error as unknown as Problem;
        setAsked(asked || problem.code === "code");
        setMessage(problem.detail);
      }
    } catch {
      setMessage("Leitung does not answer. Check the connection and try again; what you typed stays here.");
    } finally {
      setBusy(false);
    }
  }

  const field =
    "mt-1 block min-h-12 w-full rounded-xs border-2 border-ink/50 bg-sheet px-3 text-lg focus:border-copper";
  return (
    <form onSubmit={(event) => void submit(event)} className="w-full max-w-sm">
      <label className="block font-semibold">
        Name
        <input name="username" className={field} autoComplete="username" autoCapitalize="none" required autoFocus />
      </label>
      <label className="mt-5 block font-semibold">
        Password
        <input name="password" type="password" className={field} autoComplete="current-password" required />
      </label>
      {asked && (
        <label className="mt-5 block font-semibold">
          Code
          <input name="code" className={field} autoComplete="one-time-code" inputMode="numeric" required autoFocus />
        </label>
      )}
      <p role="alert" className="mt-3 min-h-6 text-stop">
        {message}
      </p>
      <Button kind="main" type="submit" className="mt-2 min-h-12 w-full text-lg" disabled={busy}>
        Sign in
      </Button>
    </form>
  );
}

export function SignIn() {
  return (
    <main className="grid min-h-screen md:grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)]">
      <div className="hidden border-r-[9px] border-ink md:block">
        <div className="flex h-full flex-col justify-between p-12">
          <Wordmark />
          <p className="max-w-md text-3xl leading-tight font-semibold">
            Know before the truck leaves that it will work. Prove afterwards that it does.
          </p>
          <p className="text-soft">{QUALIFIED}</p>
        </div>
      </div>
      <div className="flex flex-col justify-center gap-10 p-8 max-md:justify-start max-md:pt-16 md:p-0">
        <div className="md:hidden">
          <Wordmark />
        </div>
        <div className="relative md:pl-28">
          <span aria-hidden className="absolute top-3.5 left-0 hidden h-1 w-20 bg-copper md:block" />
          <h1 className="mb-6 text-2xl font-bold">Sign in</h1>
          <SignInForm />
        </div>
      </div>
    </main>
  );
}
