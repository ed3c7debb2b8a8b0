/** What an entry has changed, put into the record that is on screen. */
import type { NewsOut, RecordOut } from "../api/client";

/** Rows that came take the place of those that they are about; the others stand. */
function renewed<Row>(rows: readonly Row[], came: readonly Row[], key: (row: Row) => string): Row[] {
  const anew = new Map(came.map((row) => [key(row), row]));
  return rows.map((row) => anew.get(key(row)) ?? row);
}

const byKey = (row: { key: string }) => row.key;

/** The record with what an entry has changed; nothing where the plan it was read with is another by now. */
export function withNews(record: RecordOut, news: NewsOut): RecordOut | undefined {
  if (record.install.revision !== news.install.revision) return undefined;
  return {
    ...record,
    install: news.install,
    steps: renewed(record.steps, news.steps, byKey),
    readings: renewed(record.readings, news.readings, byKey),
    tests: renewed(record.tests, news.tests, byKey),
    set_up: renewed(record.set_up, news.set_up, byKey),
    landings: renewed(record.landings, news.landings, (row) => row.device),
    trials: renewed(record.trials, news.trials, byKey),
    left: news.left,
    not_proved: news.not_proved,
    open_items: news.open_items ?? record.open_items,
    signatures: news.signatures ?? record.signatures,
    service: news.service ?? record.service,
  };
}
