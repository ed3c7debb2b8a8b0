/** The rulebook on its own: editions, schools and tables, to read without an install. */
import { useSearchParams } from "react-router";

import { Page } from "../../ui/Page";
import { Tables } from "./Tables";
import { useRulebook } from "../../plan/useRulebook";

export function Rulebook() {
  const book = useRulebook();
  const [query] = useSearchParams();
  return (
    <Page title="Rulebook">
      {!book && <p className="py-6 text-soft">Reading the rulebook …</p>}
      {book && (
        <>
          <p className="mt-2 max-w-3xl text-soft">
            What Leitung judges by. The adopted edition and its local amendments always win; each install chooses its
            own at Site.
          </p>
          <section className="mt-8">
            <h2 className="border-t-2 border-ink pt-3 text-lg font-bold">Editions</h2>
            {book.editions.map((edition) => (
              <p key={edition.id} className="border-t border-rule py-2 first-of-type:border-0">
                <b>{edition.title}</b>{" "}
                <span className="text-soft">
                  {edition.id}, from {edition.from_day}
                  {edition.uncertain && " (not certain)"}
                </span>
              </p>
            ))}
          </section>
          <section className="mt-8">
            <h2 className="border-t-2 border-ink pt-3 text-lg font-bold">Tables</h2>
            <Tables tables={book.tables} cited={query.get("table")} />
          </section>
          <section className="mt-8">
            <h2 className="border-t-2 border-ink pt-3 text-lg font-bold">Where practice differs, and our default</h2>
            {Object.entries(book.schools).map(([key, school]) => (
              <div key={key} className="grid gap-x-6 border-t border-rule py-2 md:grid-cols-[22rem_1fr]">
                <p>
                  <b>{school.question}</b> <span className="text-sm text-soft">{school.article}</span>
                </p>
                <p>{school.options[school.default]}</p>
              </div>
            ))}
          </section>
        </>
      )}
    </Page>
  );
}
