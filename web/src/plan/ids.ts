/** Ids of new elements. */
/** The first free id with that stem. */
export function nextId(stem: string, taken: Record<string, unknown> | null | undefined): string {
  for (let number = 1; ; number += 1) if (!taken?.[`${stem}-${number}`]) return `${stem}-${number}`;
}
