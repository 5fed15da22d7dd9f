/** Asks before something is lost, or is done for good. The way back comes first, and has the focus. */
import { Button, Modal } from "antd";
import type { ReactNode } from "react";

type Props = {
  open: boolean;
  title: string;
  /** What happens, and what not, in the words of the buttons. */
  does: string;
  instead: string;
  pending?: boolean;
  danger?: boolean;
  onClose: () => void;
  onConfirm: () => void;
  children?: ReactNode;
};

export function Ask(props: Props) {
  const { open, title, does, instead, pending, danger, onClose, onConfirm, children } = props;
  return (
    <Modal
      open={open}
      title={title}
      onCancel={onClose}
      footer={
        <div className="dialog-ways">
          <Button type="primary" autoFocus onClick={onClose}>
            {instead}
          </Button>
          <Button danger={danger ?? false} loading={pending ?? false} onClick={onConfirm}>
            {does}
          </Button>
        </div>
      }
    >
      {children}
    </Modal>
  );
}
