/** JSON merge patch (RFC 7386), to show a change before the server has answered. */
export function merge<T>(document: T, patch: unknown): T {
  if (!isObject(patch)) return patch as T;
  const merged: Record<string, unknown> = isObject(document) ? { ...document } : {};
  for (const [name, value] of Object.entries(patch)) {
    if (value === null) Reflect.deleteProperty(merged, name);
    else merged[name] = merge(merged[name], value);
  }
  return merged as T;
}

export function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** A patch that sets one value at a path; undefined removes it: not known. */
export function patchAt(path: string, value: unknown): Record<string, unknown> {
  return path
    .split("/")
    .reduceRight<unknown>((inner, name) => ({ [name]: inner }), value === undefined ? null : value) as Record<
    string,
    unknown
  >;
}
