/** The sheet that lists the keys. */
import { Dialog } from "./Dialog";

type Props = {
  open: boolean;
  title: string;
  keys: readonly (readonly [string, string])[];
  onClose: () => void;
};

export function KeySheet({ open, title, keys, onClose }: Props) {
  return (
    <Dialog open={open} title={title} onClose={onClose}>
      <dl className="key-sheet">
        {keys.map(([pressed, does]) => (
          <div key={pressed}>
            <dt className="figures">{pressed}</dt>
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
