/** Large and dark, for a class before a projector: kept in the address while the place is open. */
import { useCallback, useEffect } from "react";
import { useSearchParams } from "react-router";

export function useShopRoom() {
  const [search, setSearch] = useSearchParams();
  const board = search.get("room") === "shop";
  useEffect(() => {
    document.documentElement.dataset.room = board ? "shop" : "";
    return () => {
      document.documentElement.dataset.room = "";
    };
  }, [board]);
  const toggleBoard = useCallback(() => {
    setSearch(
      (now) => {
        const changed = new URLSearchParams(now);
        if (changed.get("room") === "shop") changed.delete("room");
        else changed.set("room", "shop");
        return changed;
      },
      { replace: true },
    );
  }, [setSearch]);
  return { board, toggleBoard };
}
