/** Where the lesson leads that is held: offered at the foot of every page, never forced on anybody. */
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { type Opens, pathOf } from "./opens";
import "./phone.css";

export function OpensBar({ opens }: { opens: Opens[] }) {
  const { pathname, search } = useLocation();
  const [done, setDone] = useState<ReadonlySet<string>>(new Set());
  const at = pathname + search;
  // Today has it as its first card.
  const found = opens.filter((one) => !done.has(one.key) && pathOf(one) !== at).at(-1);
  if (found === undefined || pathname === "/today") return null;
  const close = () => setDone((before) => new Set([...before, found.key]));
  return (
    <aside className="asked-bar" aria-label="Your lesson">
      <Link to={pathOf(found)} className="opens-way" onClick={close}>
        <b>{found.title}</b>
        <span>{found.named}</span>
      </Link>
      <button type="button" className="button" onClick={close}>
        Not now
      </button>
    </aside>
  );
}
