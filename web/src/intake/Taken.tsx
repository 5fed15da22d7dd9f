/** So many sheets are in, and the way to their marks. */
import { Result } from "antd";
import { Link } from "react-router";

export function Taken({ count, sheetId }: { count: number; sheetId: number }) {
  return (
    <div role="status">
      <Result
        status="success"
        title={`${count} ${count === 1 ? "sheet is" : "sheets are"} taken in and marked`}
        extra={
          <Link className="button main" to={`/board/${sheetId}`}>
            To the board
          </Link>
        }
      />
    </div>
  );
}
