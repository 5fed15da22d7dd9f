/** The next question, from the wall: at this place, or at another that suits it. */
import { Suspense, useState } from "react";
import { Dialog } from "../app/Dialog";
import { sentence, Waiting } from "../app/feedback";
import { AskFields, type Wished } from "./AskFields";
import type { useAsk } from "./useWall";

type Props = {
  open: boolean;
  ask: ReturnType<typeof useAsk>;
  at: { engine_id: number; version: number; deg: number };
  onClose: () => void;
};

export function AskAgain({ open, ask, at, onClose }: Props) {
  const [wished, setWished] = useState<Wished>({ kind: "which-valves", seconds: null });
  const put = (crank_deg: number | null) =>
    ask.mutate(
      {
        engine_id: at.engine_id,
        version: at.version,
        ...wished,
        crank_deg,
      },
      { onSuccess: onClose },
    );
  return (
    <Dialog open={open} title="Ask another" onClose={onClose}>
      <Suspense fallback={<Waiting />}>
        {open && <AskFields wished={wished} onWish={setWished} />}
      </Suspense>
      {ask.error !== null && (
        <p className="notice" role="alert">
          {sentence(ask.error)}
        </p>
      )}
      <div className="dialog-ways">
        <button
          type="button"
          className="button main"
          disabled={ask.isPending}
          onClick={() => put(at.deg)}
        >
          Ask it here
        </button>
        <button type="button" className="button" disabled={ask.isPending} onClick={() => put(null)}>
          At another place
        </button>
        <button type="button" className="button" onClick={onClose}>
          Cancel
        </button>
      </div>
    </Dialog>
  );
}
