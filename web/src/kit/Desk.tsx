/** An instructor's place: the toolkit in our ink, a heading with its ways, and what the place shows. */
import { type ReactNode, useEffect } from "react";
import { Link } from "react-router";
import { Toolkit } from "./Toolkit";
import "./desk.css";

type Props = {
  /** In the tab of the browser, too. */
  title: string;
  /** Where this place hangs, as a link above the title. */
  from?: { to: string; title: string };
  about?: ReactNode;
  /** What may be done with the whole place. */
  ways?: ReactNode;
  children: ReactNode;
};

export function Desk({ title, from, about, ways, children }: Props) {
  useEffect(() => {
    document.title = `${title} · Edrix`;
  }, [title]);
  return (
    <Toolkit>
      <div className="desk">
        <div className="place-head">
          <div>
            {from && (
              <p>
                <Link to={from.to}>{from.title}</Link>
              </p>
            )}
            <h1>{title}</h1>
            {about && <p>{about}</p>}
          </div>
          {ways && <div className="ways">{ways}</div>}
        </div>
        {children}
      </div>
    </Toolkit>
  );
}
