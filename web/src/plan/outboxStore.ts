/** Where writes wait: one row each in the browser's own database, in the order in which they were made. */
import { type DBSchema, type IDBPDatabase, openDB } from "idb";

import type { Write } from "./outbox";

export interface Row {
  /** The place in the order; given by the database. */
  seq: number;
  /** Whose writes, for which install. */
  box: string;
  write: Write;
}

export interface Store {
  all: (box: string) => Promise<Row[]>;
  append: (box: string, write: Write) => Promise<number>;
  put: (row: Row) => Promise<void>;
  remove: (seq: number) => Promise<void>;
}

interface Schema extends DBSchema {
  writes: { key: number; value: Omit<Row, "seq"> & { seq?: number }; indexes: { box: string } };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>("leitung", 1, {
    upgrade(db) {
      db.createObjectStore("writes", { keyPath: "seq", autoIncrement: true }).createIndex("box", "box");
    },
    terminated() {
      opened = undefined;
    },
  });
  return opened;
}

export const browserStore: Store = {
  async all(box) {
    const rows = await (await database()).getAllFromIndex("writes", "box", box);
    return (rows as Row[]).sort((a, b) => a.seq - b.seq);
  },
  async append(box, write) {
    return (await database()).add("writes", { box, write });
  },
  async put(row) {
    await (await database()).put("writes", row);
  },
  async remove(seq) {
    await (await database()).delete("writes", seq);
  },
};
