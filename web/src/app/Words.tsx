/** A text of the trade whose words can be tapped: what each means, with a small drawing. */
import { Fragment, lazy, Suspense, useState } from "react";
import { createPortal } from "react-dom";
import { partsOf, type Term, termOf } from "./glossary";

const WordCard = lazy(() => import("./WordCard"));

export function Words({ text }: { text: string }) {
  const [asked, setAsked] = useState<Term | null>(null);
  const seen = new Set<Term>();
  return (
    <>
      {partsOf(text).map((part, at) => {
        const term = termOf(part);
        const key = `${at} ${part}`;
        // Once in a text is enough: a line of dots under every other word cannot be read.
        if (term === undefined || seen.has(term)) return <Fragment key={key}>{part}</Fragment>;
        seen.add(term);
        return (
          <button
            key={key}
            type="button"
            className="term"
            aria-haspopup="dialog"
            onClick={(event) => {
              // Within something that can be chosen, a tap at a word only explains it.
              event.stopPropagation();
              setAsked(term);
            }}
          >
            {part}
          </button>
        );
      })}
      {asked !== null &&
        createPortal(
          <Suspense fallback={null}>
            <WordCard term={asked} onClose={() => setAsked(null)} />
          </Suspense>,
          document.body,
        )}
    </>
  );
}
