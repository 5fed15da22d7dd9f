/** What a word of the trade means, above whatever it stands in. */
import { Link } from "react-router";
import { Dialog } from "./Dialog";
import type { Term } from "./glossary";
import { WordDrawing } from "./WordDrawing";

export default function WordCard({ term, onClose }: { term: Term; onClose: () => void }) {
  return (
    <Dialog open title={term.word} onClose={onClose}>
      <WordDrawing name={term.drawing} />
      <p>{term.means}</p>
      <div className="dialog-ways">
        <button type="button" className="button main" onClick={onClose}>
          Back
        </button>
        <Link className="button" to="/help/words" onClick={onClose}>
          All words
        </Link>
      </div>
    </Dialog>
  );
}
