/** The sheet that lists the keys. */
import { Dialog } from "../app/Dialog";
import { KEYS } from "./useTurningKeys";

export function KeySheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} title="Turning by keys" onClose={onClose}>
      <dl className="key-sheet">
        {KEYS.map(([keys, does]) => (
          <div key={keys}>
            <dt className="figures">{keys}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <div className="dialog-ways">
        <button type="button" className="button main" onClick={onClose}>
          Close
        </button>
      </div>
    </Dialog>
  );
}
