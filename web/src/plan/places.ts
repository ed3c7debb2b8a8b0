/** Where a finding is shown: the screen, and the thing on it. */

export interface Place {
  to: string;
  /** The thing by its name; none where the message names it. */
  name: string | null;
}

/** The place of what a finding is about, at the station where it is mended. */
export function placeOf(about: string, station: string): Place {
  const [group, id] = about.split("/");
  const name = id ?? null;
  if (!id) return { to: station, name: null };
  const key = encodeURIComponent(id);
  if (station === "supply") return { to: group === "sources" ? `supply?source=${key}` : "supply", name: null };
  if (station === "bench") return { to: `bench?system=${key}`, name };
  switch (group) {
    case "circuits":
      return { to: `lines?line=${key}`, name };
    case "equipment":
      return { to: `lines?unit=${key}`, name };
    case "sources":
      return { to: `panels?panel=${key}`, name: null };
    case "devices":
      return { to: `landings?device=${key}`, name };
    case "cables":
      return { to: `landings?cable=${key}`, name };
    case "questions":
      return { to: "suit", name: null };
    default:
      return { to: station, name };
  }
}
