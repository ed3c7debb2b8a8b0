/**
 * Writes on their way: each a row of its own in the browser's database, sent in their order by one sender across all
 * tabs, kept through a lost connection and a closed page, sent again under the same key until the server has answered.
 */
import { type Conflict, freshKey, type Patch, post, type Problem, type Sent } from "../api/client";
import { browserStore, type Row, type Store } from "./outboxStore";

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

/** full: the device keeps nothing more; what waits is lost with this page. */
export type Trouble = "offline" | "signed-out" | "full" | null;

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

/** A row; without a place where the database has not taken it yet, or cannot. */
type Waiting = Omit<Row, "seq"> & { seq?: number };
type News = { kind: "changed" } | { kind: "done"; write: Write; body: unknown };
type Send = (path: string, key: string, body: unknown) => Promise<Sent<unknown>>;
const RETRY_MS = [1_000, 2_000, 4_000, 8_000, 15_000];

const open = new Map<string, Outbox>();

/** The outbox of an install that is open in this tab. */
export function outboxOf(install: string): Outbox | undefined {
  return open.get(install);
}

export class Outbox {
  private state: OutboxState = { waiting: [], trouble: null, conflict: null };
  private rows: Waiting[] = [];
  /** What this page has decided of a row and the database has not taken yet; null: it is gone. */
  private readonly decided = new Map<number, Waiting | null>();
  private readonly listeners = new Set<() => void>();
  private readonly loaded: Promise<void>;
  private writing: Promise<unknown> = Promise.resolve();
  private flushing: Promise<void> | null = null;
  private tries = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private channel: BroadcastChannel | undefined;

  constructor(
    private readonly name: string,
    private readonly handlers: Handlers,
    private readonly send: Send = post,
    private readonly store: Store = browserStore,
  ) {
    this.loaded = this.bringAlong().then(() => this.load());
  }

  /** Listen to the other tabs, and be found by the install's id; gives back how that ends. */
  attach(install: string): () => void {
    open.set(install, this);
    if ("BroadcastChannel" in globalThis) {
      this.channel = new BroadcastChannel(`outbox ${this.name}`);
      this.channel.onmessage = ({ data }: MessageEvent<News>) => {
        if (data.kind === "done") this.handlers.done(data.write, data.body);
        void this.load();
      };
    }
    return () => {
      if (open.get(install) === this) open.delete(install);
      this.channel?.close();
      this.channel = undefined;
    };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  read = (): OutboxState => this.state;

  /** Take a write in; with a key of its own where it has been tried before. */
  add(write: Omit<Write, "key"> & { key?: string }): void {
    const row: Waiting = { box: this.name, write: { ...write, key: write.key ?? freshKey() } };
    this.rows = [...this.rows, row];
    this.show();
    // One after the other: their places in the database are their order.
    this.writing = this.writing.then(async () => {
      try {
        await this.loaded;
        row.seq = await this.store.append(this.name, row.write);
        this.tell({ kind: "changed" });
      } catch {
        this.set({ trouble: "full" });
      }
      void this.flush();
    });
  }

  retry(): void {
    clearTimeout(this.timer);
    void this.flush();
  }

  /** Send the held change again on top of what the other person did, or let it go. */
  resolve(mine: boolean): void {
    const [first] = this.rows;
    if (!this.state.conflict || !first) return;
    this.set({ conflict: null });
    void (async () => {
      if (mine) {
        first.write = { ...first.write, key: freshKey(), base: undefined };
        await this.keep(first);
      } else await this.drop(first);
      await this.flush();
    })();
  }

  /** The revision once nothing waits any more; refused where what waits cannot go out now. */
  async settled(): Promise<number> {
    await this.loaded;
    while (this.rows.length > 0) {
      await this.flush();
      if (this.rows.length > 0 && (this.state.trouble ?? this.state.conflict)) throw new Error("changes still wait");
    }
    return this.handlers.revision();
  }

  flush(): Promise<void> {
    this.flushing ??= this.alone(() => this.drain()).finally(() => {
      this.flushing = null;
      // One that came in just as the last one was done.
      if (this.rows.length > 0 && !this.state.trouble && !this.state.conflict) void this.flush();
    });
    return this.flushing;
  }

  /** One sender across all tabs: where the browser has locks, the others wait for theirs. */
  private async alone(work: () => Promise<void>): Promise<void> {
    await this.loaded;
    await this.writing;
    if ("locks" in navigator) await navigator.locks.request(`outbox ${this.name}`, work);
    else await work();
  }

  private async drain(): Promise<void> {
    // Another tab may have sent some of it while this one waited for its turn.
    await this.load();
    while (this.rows.length > 0 && !this.state.conflict && (await this.sendFirst()));
  }

  /** Whether the next one may be sent. */
  private async sendFirst(): Promise<boolean> {
    const row = this.rows[0];
    if (!row) return false;
    if (row.write.patch && row.write.base === undefined) {
      row.write = { ...row.write, base: this.handlers.revision() };
      await this.keep(row);
    }
    const { write } = row;
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
      // The answer is drawn in the moment in which what was entered is no longer.
      const dropped = this.drop(row);
      this.handlers.done(write, answer.body);
      await dropped;
      this.tell({ kind: "done", write, body: answer.body });
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
    const dropped = this.drop(row);
    this.handlers.refused(write, problem);
    await dropped;
    return true;
  }

  private later(): void {
    const wait = RETRY_MS[Math.min(this.tries, RETRY_MS.length - 1)];
    this.tries += 1;
    this.set({ trouble: "offline" });
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), wait);
  }

  /** What an earlier Leitung kept in another place goes into the database, once. */
  private async bringAlong(): Promise<void> {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(this.name) ?? "[]");
      for (const write of Array.isArray(kept) ? (kept as Write[]) : []) await this.store.append(this.name, write);
      localStorage.removeItem(this.name);
    } catch {
      // Nothing that can be read: nothing to bring.
    }
  }

  /** What waits in the database, whichever tab put it there; behind it what it has not taken yet. */
  private async load(): Promise<void> {
    try {
      const kept = await this.store.all(this.name);
      const mine = new Map(this.rows.map((row) => [row.write.key, row]));
      const known = new Set(kept.map((row) => row.write.key));
      this.rows = [
        ...kept
          .filter((row) => this.decided.get(row.seq) !== null)
          .map((row) => Object.assign(this.decided.get(row.seq) ?? mine.get(row.write.key) ?? row, { seq: row.seq })),
        ...this.rows.filter((row) => row.seq === undefined && !known.has(row.write.key)),
      ];
      this.show();
    } catch {
      this.set({ trouble: "full" });
    }
  }

  private async keep(row: Waiting): Promise<void> {
    const { seq } = row;
    if (seq !== undefined) await this.decide(seq, row, this.store.put({ ...row, seq }));
    this.show();
  }

  private async drop(row: Waiting): Promise<void> {
    this.rows = this.rows.filter((other) => other !== row);
    this.set({ trouble: null, waiting: this.rows.map((other) => other.write) });
    if (row.seq !== undefined) await this.decide(row.seq, null, this.store.remove(row.seq));
    this.tell({ kind: "changed" });
  }

  /** Whoever reads the database meanwhile still finds the row as it was. */
  private async decide(seq: number, row: Waiting | null, stored: Promise<void>): Promise<void> {
    this.decided.set(seq, row);
    try {
      await stored;
    } finally {
      this.decided.delete(seq);
    }
  }

  private tell(news: News): void {
    this.channel?.postMessage(news);
  }

  private show(): void {
    this.set({ waiting: this.rows.map((row) => row.write) });
  }

  private set(change: Partial<OutboxState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
  }
}
