/** A text of the trade whose words can be tapped: what each means, with a small drawing. */
import { Fragment, lazy, Suspense, useState } from "react";
import { createPortal } from "react-dom";
import { piecesOf, type Term } from "./glossary";

const WordCard = lazy(() => import("./WordCard"));

export function Words({ text }: { text: string }) {
  const [asked, setAsked] = useState<Term | null>(null);
  return (
    <>
      {piecesOf(text).map((piece, at) => {
        const key = `${at} ${typeof piece === "string" ? piece : piece.word}`;
        if (typeof piece === "string") return <Fragment key={key}>{piece}</Fragment>;
        const { term, before, word, after } = piece;
        return (
          <span key={key} className="term-whole">
            {before}
            <button
              type="button"
              className="term"
              aria-haspopup="dialog"
              onClick={(event) => {
                // Within something that can be chosen, a tap at a word only explains it.
                event.stopPropagation();
                setAsked(term);
              }}
            >
              {word}
            </button>
            {after}
          </span>
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
