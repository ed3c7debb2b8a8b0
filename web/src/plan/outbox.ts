/**
 * Writes on their way: sent one after the other, kept through a lost connection and a closed page,
 * sent again under the same key until the server has answered.
 */
import { type Conflict, freshKey, type Patch, post, type Problem, type Sent } from "../api/client";

export interface Write {
  key: string;
  path: string;
  /** A plan change carries its patch; its base revision is filled in when it is first sent. */
  patch?: Patch;
  base?: number;
  body?: unknown;
  /** The field on screen that the change was typed into, for a message beside it. */
  field?: string;
  label: string;
  /** What cannot be a value of its field is sent for the server's message, but never drawn. */
  doubtful?: boolean;
  /** The text that was typed, to stand beside its message when it is refused. */
  typed?: string;
}

export type Trouble = "offline" | "signed-out" | null;

export interface OutboxState {
  waiting: readonly Write[];
  trouble: Trouble;
  conflict: Conflict | null;
}

export interface Handlers {
  revision: () => number;
  done: (write: Write, body: unknown) => void;
  refused: (write: Write, problem: Problem) => void;
}

type Send = (path: string, key: string, body: unknown) => Promise<Sent<unknown>>;
const RETRY_MS = [1_000, 2_000, 4_000, 8_000, 15_000];

export class Outbox {
  private state: OutboxState;
  private readonly listeners = new Set<() => void>();
  private sending = false;
  private tries = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly name: string,
    private readonly handlers: Handlers,
    private readonly send: Send = post,
    private readonly store: Storage = localStorage,
  ) {
    this.state = { waiting: this.restore(), trouble: null, conflict: null };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  read = (): OutboxState => this.state;

  add(write: Omit<Write, "key">): void {
    this.set({ waiting: [...this.state.waiting, { ...write, key: freshKey() }] });
    void this.flush();
  }

  retry(): void {
    clearTimeout(this.timer);
    void this.flush();
  }

  /** Send the held change again on top of what the other person did, or let it go. */
  resolve(mine: boolean): void {
    const [first, ...rest] = this.state.waiting;
    if (!this.state.conflict || !first) return;
    const again = { ...first, key: freshKey(), base: undefined };
    this.set({ waiting: mine ? [again, ...rest] : rest, conflict: null });
    void this.flush();
  }

  async flush(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      while (this.state.waiting.length > 0 && !this.state.conflict && (await this.sendFirst()));
    } finally {
      this.sending = false;
    }
  }

  /** Whether the next one may be sent. */
  private async sendFirst(): Promise<boolean> {
    let write = this.state.waiting[0];
    if (!write) return false;
    if (write.patch && write.base === undefined) {
      write = { ...write, base: this.handlers.revision() };
      this.set({ waiting: [write, ...this.state.waiting.slice(1)] });
    }
    const body = write.patch
      ? { base_revision: write.base, patch: write.patch, only_changed: true }
      : (write.body ?? {});
    const answer = await this.send(write.path, write.key, body);
    if (answer.kind === "unreachable") {
      this.later();
      return false;
    }
    this.tries = 0;
    if (answer.kind === "done") {
      this.set({ waiting: this.state.waiting.slice(1), trouble: null });
      this.handlers.done(write, answer.body);
      return true;
    }
    const { problem } = answer;
    if (problem.status === 401) {
      this.set({ trouble: "signed-out" });
      return false;
    }
    if (problem.code === "conflict" && write.patch) {
      this.set({ conflict: problem as Conflict, trouble: null });
      return false;
    }
    this.set({ waiting: this.state.waiting.slice(1), trouble: null });
    this.handlers.refused(write, problem);
    return true;
  }

  private later(): void {
    const wait = RETRY_MS[Math.min(this.tries, RETRY_MS.length - 1)];
    this.tries += 1;
    this.set({ trouble: "offline" });
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), wait);
  }

  private set(change: Partial<OutboxState>): void {
    this.state = { ...this.state, ...change };
    if (this.state.waiting.length > 0) this.store.setItem(this.name, JSON.stringify(this.state.waiting));
    else this.store.removeItem(this.name);
    for (const listener of this.listeners) listener();
  }

  private restore(): Write[] {
    try {
      const kept: unknown = JSON.parse(this.store.getItem(this.name) ?? "[]");
      return Array.isArray(kept) ? (kept as Write[]) : [];
    } catch {
      return [];
    }
  }
}
