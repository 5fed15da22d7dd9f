/** A form that is asked for: it slides in beside the list, and asks before typed work is dropped. */
import { Button, Drawer } from "antd";
import { createContext, type ReactNode, useContext, useState } from "react";
import { Ask } from "./Ask";

type Props = {
  open: boolean;
  title: string;
  /** Whether something was typed that closing would lose. */
  typed?: boolean;
  /** With room for a table beside. */
  wide?: boolean;
  /** Closes it, and forgets what was typed. */
  onClose: () => void;
  children: ReactNode;
};

/** How a form's own Cancel leaves the panel it is in: as the panel's cross does. */
const Leave = createContext<(() => void) | null>(null);

export function Panel({ open, title, typed = false, wide = false, onClose, children }: Props) {
  const [leaving, setLeaving] = useState(false);
  const leave = () => (typed ? setLeaving(true) : onClose());
  return (
    <Drawer open={open} title={title} size={wide ? 680 : 460} onClose={leave} destroyOnHidden>
      <Leave value={leave}>{children}</Leave>
      <Ask
        open={leaving}
        title="Leave without saving?"
        instead="Keep typing"
        does="Discard it"
        danger
        onClose={() => setLeaving(false)}
        onConfirm={() => {
          setLeaving(false);
          onClose();
        }}
      >
        <p>What you have typed here will be gone.</p>
      </Ask>
    </Drawer>
  );
}

type WaysProps = {
  does: string;
  pending: boolean;
  /** Something has to be put right before. */
  waits?: boolean;
  /** In a dialog of its own; in a panel, Cancel leaves as the panel does. */
  onClose?: () => void;
};

/** The buttons at the foot of a form. */
export function PanelWays({ does, pending, waits = false, onClose }: WaysProps) {
  const leave = useContext(Leave) ?? onClose;
  return (
    <div className="ways">
      <Button type="primary" htmlType="submit" loading={pending} disabled={waits}>
        {does}
      </Button>
      <Button onClick={() => leave?.()}>Cancel</Button>
    </div>
  );
}
