/** Session and routes. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Navigate, Route, Routes } from "react-router";

import { api, data, setToken } from "../api/client";
import { Board } from "../features/board/Board";
import { Newer } from "../ui/Newer";
import { Message } from "../ui/parts";
import { SignIn } from "../ui/SignIn";

const Account = lazy(async () => ({ default: (await import("../features/people/Account")).Account }));
const Join = lazy(async () => ({ default: (await import("../features/people/Join")).Join }));
const People = lazy(async () => ({ default: (await import("../features/people/People")).People }));
const Catalogue = lazy(async () => ({ default: (await import("../features/catalogue/Catalogue")).Catalogue }));
const Install = lazy(async () => ({ default: (await import("./Install")).Install }));
const Lines = lazy(async () => ({ default: (await import("../features/lines/Lines")).Lines }));
const Practice = lazy(async () => ({ default: (await import("../features/practice/Practice")).Practice }));
const QuickSize = lazy(async () => ({ default: (await import("../features/size/QuickSize")).QuickSize }));
const Starts = lazy(async () => ({ default: (await import("../features/starts/Starts")).Starts }));
const Week = lazy(async () => ({ default: (await import("../features/week/Week")).Week }));
const Rulebook = lazy(async () => ({ default: (await import("../features/rules/Rulebook")).Rulebook }));

export function App() {
  const session = useQuery({
    queryKey: ["session"],
    queryFn: async () => {
      const found = data(await api.GET("/api/session"));
      setToken(found.csrf_token);
      return found;
    },
    staleTime: Infinity,
  });
  if (session.isPending) return null;
  if (session.isError)
    return (
      <Message title="Leitung does not answer">
        <p>Nothing is lost. Check that it is running, then load the page again.</p>
      </Message>
    );
  const { person } = session.data;
  if (!person)
    return (
      <Suspense fallback={null}>
        <Routes>
          <Route path="/join/:token" element={<Join />} />
          <Route path="*" element={<SignIn />} />
        </Routes>
      </Suspense>
    );
  return (
    <>
      <Newer />
      <Suspense fallback={<main className="p-7 text-soft">Drawing …</main>}>
        <Routes>
          <Route path="/" element={<Board person={person} />} />
          <Route
            path="/size"
            element={
              <QuickSize
                person={person}
                draw={(plan) => (
                  <Lines plan={plan} readOnly={false} history={false} onHistory={() => undefined} single />
                )}
              />
            }
          />
          <Route path="/week" element={<Week person={person} />} />
          <Route path="/practice" element={<Practice person={person} />} />
          <Route path="/people" element={<People person={person} />} />
          <Route path="/account" element={<Account />} />
          <Route path="/join/:token" element={<Join />} />
          <Route path="/starts" element={<Starts />} />
          <Route path="/catalogue" element={<Catalogue person={person} />} />
          <Route path="/rulebook" element={<Rulebook />} />
          <Route path="/installs/:id" element={<Navigate to="lines" replace />} />
          <Route path="/installs/:id/:station" element={<Install person={person} />} />
          <Route
            path="*"
            element={
              <Message title="There is nothing at this address">
                <a className="underline" href="/">
                  To the installs
                </a>
              </Message>
            }
          />
        </Routes>
      </Suspense>
    </>
  );
}
