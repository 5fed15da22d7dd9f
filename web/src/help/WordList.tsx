/** Every word of the trade, with what it means and its drawing. */
import { TERMS } from "../app/glossary";
import { WordDrawing } from "../app/WordDrawing";

const SORTED = [...TERMS].sort((one, other) => one.word.localeCompare(other.word, "en"));

export function WordList() {
  return (
    <>
      <h1>Words of the trade</h1>
      <p className="soft">Where one of them has dots under it, a tap shows what stands here.</p>
      <dl className="word-list">
        {SORTED.map((term) => (
          <div key={term.word}>
            <dt>{term.word}</dt>
            <dd>
              <WordDrawing name={term.drawing} />
              {term.means}
            </dd>
          </div>
        ))}
      </dl>
    </>
  );
}
