/** One write after another, what was refused in words. */
import { useState } from "react";

import { freshKey, post } from "../api/client";
import { inWords } from "./inWords";

export function useSend() {
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  async function send<T>(path: string, body: unknown): Promise<T | null> {
    setBusy(true);
    const sent = await post<T>(path, freshKey(), body);
    setBusy(false);
    setWrong(sent.kind === "done" ? null : inWords(sent));
    return sent.kind === "done" ? sent.body : null;
  }
  return { busy, wrong, send };
}
