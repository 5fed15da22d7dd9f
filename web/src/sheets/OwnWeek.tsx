/** A student's own places in the rota: where to be, on what and with whom. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ownRotaQuery } from "../api/rota";
import { near, timeOfDay, weekday } from "../app/school";

/** Of a long rota, so many are in sight. */
const IN_SIGHT = 3;

export function OwnWeek() {
  const { data: own } = useSuspenseQuery(ownRotaQuery);
  if (own.bookings.length === 0) return null;
  return (
    <section aria-labelledby="own-week">
      <h2 id="own-week">My rota</h2>
      <ul className="own-week card">
        {own.bookings.slice(0, IN_SIGHT).map((one) => (
          <li key={one.starts_at}>
            <b>
              {weekday(one.starts_at)} {near(one.starts_at)} to {timeOfDay(one.ends_at)}
            </b>
            <span>
              {one.kind === "sheet" && one.of !== null ? (
                <Link to={`/sheet/${one.of}`}>{one.task}</Link>
              ) : (
                one.task
              )}
              , {one.place}
              <span className="soft">
                {one.others.length > 0 ? `, with ${one.others.join(", ")}` : ", alone"}
              </span>
            </span>
          </li>
        ))}
      </ul>
      <p className="soft own-week-more">
        {own.bookings.length > IN_SIGHT && `${own.bookings.length - IN_SIGHT} more follow. `}
        <Link to="/me">Put it into your own calendar</Link>
      </p>
    </section>
  );
}
