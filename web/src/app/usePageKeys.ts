/** Keys for a whole page: not in a field, not behind a dialog, not with a modifier. */
import { useEffect, useRef } from "react";
import { isTypedIn } from "./typedIn";

/** actions by key in small letters: `pagedown`, `b`. */
export function usePageKeys(actions: Readonly<Record<string, () => unknown>>) {
  const latest = useRef(actions);
  latest.current = actions;
  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey || isTypedIn(event.target, event.key))
        return;
      if (document.querySelector("dialog[open]")) return;
      const action = latest.current[event.key.toLowerCase()];
      if (action) {
        event.preventDefault();
        action();
      }
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
