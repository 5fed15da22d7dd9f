/**
 * Dialogs of the phone's sheet and the practice, by the browser's own modal element: it keeps the
 * focus and closes by Escape, and spares a phone the weight of antd's Modal.
 */
import { type ReactNode, useId, useLayoutEffect, useRef } from "react";

type DialogProps = { open: boolean; title: string; onClose: () => void; children: ReactNode };

export function Dialog({ open, title, onClose, children }: DialogProps) {
  const dialog = useRef<HTMLDialogElement>(null);
  const titleId = useId();
  useLayoutEffect(() => {
    if (open) dialog.current?.showModal();
    else dialog.current?.close();
  }, [open]);
  return (
    <dialog
      ref={dialog}
      className="card dialog"
      aria-labelledby={titleId}
      onCancel={(event) => {
        event.preventDefault();
        onClose();
      }}
    >
      <h2 id={titleId}>{title}</h2>
      {children}
    </dialog>
  );
}

type ConfirmProps = Omit<DialogProps, "children"> & {
  children?: ReactNode;
  /** What happens, and what not, in the words of the buttons. */
  does: string;
  instead: string;
  pending?: boolean;
  onConfirm: () => void;
};

/** Asks before something is lost. The way back comes first, and has the focus. */
export function Confirm({ does, instead, pending, onConfirm, children, ...dialog }: ConfirmProps) {
  return (
    <Dialog {...dialog}>
      {children}
      <div className="dialog-ways">
        <button type="button" className="button main" onClick={dialog.onClose}>
          {instead}
        </button>
        <button type="button" className="button" disabled={pending} onClick={onConfirm}>
          {does}
        </button>
      </div>
    </Dialog>
  );
}
