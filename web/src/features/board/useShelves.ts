/** What can be done to an install on the board, and what was done last, which can be taken back. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { freshKey, type InstallOut, post } from "../../api/client";
import { inWords } from "../../ui/inWords";

export type Shelf = InstallOut["shelf"];
const SAYS: Record<Shelf, string> = {
  open: "is back on the board",
  template: "is a template",
  archived: "is archived",
  deleted: "is deleted; under Deleted it can be brought back",
};

export interface Done {
  says: string;
  wrong?: boolean;
  back?: () => Promise<boolean>;
}

export interface Shelves {
  done: Done | null;
  put: (install: InstallOut, shelf: Shelf) => Promise<boolean>;
  rename: (install: InstallOut, name: string) => Promise<boolean>;
  template: (install: InstallOut, name: string) => Promise<boolean>;
  goesOn: (install: InstallOut) => string;
}

export function useShelves(): Shelves {
  const client = useQueryClient();
  const [done, setDone] = useState<Done | null>(null);

  async function send(path: string, body: unknown, after: Done): Promise<boolean> {
    const answer = await post<unknown>(path, freshKey(), body);
    setDone(answer.kind === "done" ? after : { says: inWords(answer), wrong: true });
    await client.invalidateQueries({ queryKey: ["board"] });
    return answer.kind === "done";
  }
  function put(install: InstallOut, shelf: Shelf, mayGoBack = true): Promise<boolean> {
    const was = install.shelf;
    const back = mayGoBack ? () => put({ ...install, shelf }, was, false) : undefined;
    return send(`/api/installs/${install.id}/shelf`, { shelf }, { says: `${install.name} ${SAYS[shelf]}.`, back });
  }
  return {
    done,
    put: (install, shelf) => put(install, shelf),
    rename: (install, name) =>
      send(
        `/api/installs/${install.id}/patches`,
        { base_revision: install.revision, patch: { name } },
        { says: `${install.name} is called ${name} now.` },
      ),
    template: (install, name) =>
      send(
        "/api/installs",
        { name, like: install.id, template: true },
        { says: `${name} is a template: a new install can begin like it.` },
      ),
    goesOn: (install) =>
      new Date(install.kept_until ?? "").toLocaleDateString("en-US", { month: "long", day: "numeric" }),
  };
}
