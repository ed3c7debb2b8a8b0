/** Any entered value as text: what is not known is empty. */
export function asText(value: unknown): string {
  if (value == null) return "";
  if (typeof value === "string") return value;
  if (typeof value === "number" || typeof value === "boolean") return String(value);
  return JSON.stringify(value);
}

/** With a capital at its beginning. */
export function sentence(text: string): string {
  return `${text[0]?.toUpperCase() ?? ""}${text.slice(1)}`;
}
