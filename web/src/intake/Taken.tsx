/** So many sheets are in, and the way to their marks. */
import { Link } from "react-router";

export function Taken({ count, sheetId }: { count: number; sheetId: number }) {
  return (
    <section className="notice calm" role="status">
      <h2>
        {count} {count === 1 ? "sheet is" : "sheets are"} taken in and marked
      </h2>
      <p>
        <Link className="button main" to={`/board/${sheetId}`}>
          To the board
        </Link>
      </p>
    </section>
  );
}
