/** Before a projector: large and dark, and back, by this button or B. */
import { useEffect } from "react";
import { useShopRoom } from "./useShopRoom";

export function BoardButton() {
  const { board, toggleBoard } = useShopRoom();
  useEffect(() => {
    function press(event: KeyboardEvent) {
      const inField = (event.target as HTMLElement).closest?.("input, select, textarea, dialog");
      if (event.key.toLowerCase() !== "b" || inField) return;
      if (!event.ctrlKey && !event.metaKey && !event.altKey) toggleBoard();
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [toggleBoard]);
  return (
    <button type="button" className="button for-board" aria-pressed={board} onClick={toggleBoard}>
      Large and dark <kbd>B</kbd>
    </button>
  );
}
