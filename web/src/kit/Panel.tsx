/** A form that is asked for: it slides in beside the list, and asks before typed work is dropped. */
import { Button, Drawer } from "antd";
import { type ReactNode, useState } from "react";
import { Ask } from "./Ask";

type Props = {
  open: boolean;
  title: string;
  /** Whether something was typed that closing would lose. */
  typed?: boolean;
  wide?: boolean;
  onClose: () => void;
  children: ReactNode;
};

export function Panel({ open, title, typed = false, wide = false, onClose, children }: Props) {
  const [leaving, setLeaving] = useState(false);
  return (
    <Drawer
      open={open}
      title={title}
      size={wide ? 720 : 460}
      onClose={() => (typed ? setLeaving(true) : onClose())}
      destroyOnHidden
    >
      {children}
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

/** The buttons at the foot of a panel's form. */
export function PanelWays({
  does,
  pending,
  onClose,
}: {
  does: string;
  pending: boolean;
  onClose: () => void;
}) {
  return (
    <div className="ways">
      <Button type="primary" htmlType="submit" loading={pending}>
        {does}
      </Button>
      <Button onClick={onClose}>Cancel</Button>
    </div>
  );
}
