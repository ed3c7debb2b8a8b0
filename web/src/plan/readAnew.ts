/** What a change has made old is read again; an answer still under way belongs to before, and is not waited for. */
import type { QueryClient } from "@tanstack/react-query";

export async function readAnew(client: QueryClient, queryKey: readonly unknown[]): Promise<void> {
  // A first reading under way is not begun again by marking it old: it must be let go.
  await client.cancelQueries({ queryKey });
  await client.invalidateQueries({ queryKey });
}
