/** A screen outside any install: the mark, where one can go, and a heading. */
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect } from "react";
import { Link, useLocation } from "react-router";

import type { Session } from "../api/client";
import { LookSwitch } from "./LookSwitch";
import { UnitsSwitch } from "./UnitsSwitch";
import { Wordmark } from "./Wordmark";

const PLACES = [
  { to: "/", name: "Installs" },
  { to: "/week", name: "Week" },
  { to: "/practice", name: "Practice" },
  { to: "/size", name: "Quick size" },
  { to: "/starts", name: "Will it start" },
  { to: "/catalogue", name: "Catalogue" },
  { to: "/rulebook", name: "Rulebook" },
] as const;

export function Places() {
  const { pathname } = useLocation();
  const client = useQueryClient();
  const may = client.getQueryData<Session>(["session"])?.person?.may ?? [];
  const places = may.includes("people") ? [...PLACES, { to: "/people", name: "People" }] : PLACES;
  return (
    <nav aria-label="Places" className="flex flex-wrap gap-x-6">
      {places.map(({ to, name }) => (
        <Link
          key={to}
          to={to}
          aria-current={pathname === to ? "page" : undefined}
          className={`flex min-h-11 items-center ${pathname === to ? "font-bold" : "text-soft hover:text-ink"}`}
        >
          {name}
        </Link>
      ))}
    </nav>
  );
}

interface Props {
  title: string;
  children: ReactNode;
  wide?: boolean;
  /** Nothing is in the way of what is being done: on a phone the places are put away. */
  atWork?: boolean;
}

export function Page({ title, children, wide, atWork }: Props) {
  useEffect(() => {
    document.title = `${title} · Leitung`;
  }, [title]);
  return (
    <div className={wide ? "flex min-h-screen flex-col" : "mx-auto max-w-6xl px-5 pb-16 md:px-7"}>
      <header className={`flex flex-wrap items-center gap-x-6 pt-3 ${wide ? "px-5 md:px-7" : ""}`}>
        <Link to="/" aria-label="Leitung: all installs" className="flex min-h-11 items-center">
          <Wordmark />
        </Link>
        <div className={atWork ? "max-md:hidden" : ""}>
          <Places />
        </div>
        <span className="ml-auto flex gap-x-5">
          <LookSwitch />
          <UnitsSwitch />
        </span>
      </header>
      {wide ? (
        children
      ) : (
        <main>
          <h1 className="mt-6 text-3xl font-bold">{title}</h1>
          {children}
        </main>
      )}
    </div>
  );
}
