/** The rail beside every place (a bar at the bottom on a phone). */
import { type ReactNode, useState } from "react";
import { NavLink, useLocation } from "react-router";
import { Confirm, Dialog } from "./Dialog";
import { sentence } from "./feedback";
import { helpOf } from "./helpOf";
import { unsentOf } from "./own";
import { type Person, useChooseUnit, useSignOut } from "./session";
import { useTop } from "./useTop";

type Way = { to: string; label: string; icon: ReactNode };

const ENGINES: Way = {
  to: "/engines",
  label: "Engines",
  icon: <path d="M4 11h3V7h8l3 4h3v8h-3l-2 2H7v-4H4zM9 7V4h4v3" />,
};
const CLASSES: Way = {
  to: "/classes",
  label: "Classes",
  icon: (
    <path d="M8 11a3 3 0 1 0 0-6 3 3 0 0 0 0 6zm9 0a3 3 0 1 0 0-6M3 20c0-4 2-6 5-6s5 2 5 6zm13-6c3 0 5 2 5 6h-5" />
  ),
};
const LESSONS: Way = {
  to: "/lessons",
  label: "Lessons",
  icon: <path d="M4 4h16v12H4zM9 20l3-4 3 4M8 8h8M8 11h5" />,
};
const STANDS: Way = {
  to: "/stands",
  label: "Stands",
  icon: <path d="M3 9h18M5 9v11m14-11v11M7 9V5h10v4M9 14h6v4H9z" />,
};
const SCHOOL: Way = {
  to: "/school",
  label: "School",
  icon: <path d="M3 20h18M5 20V10l7-5 7 5v10M10 20v-5h4v5" />,
};
const TODAY: Way = {
  to: "/today",
  label: "Today",
  icon: <path d="M4 5h16v16H4zM4 10h16M8 3v4m8-4v4m-8 8h3v3H8z" />,
};
const SHEETS: Way = {
  to: "/work",
  label: "My sheets",
  icon: <path d="M6 3h12v18H6zM9 8h6M9 12h6M9 16h4" />,
};

export function Shell({ person, children }: { person: Person; children: ReactNode }) {
  const teaches = person.is_head
    ? [ENGINES, CLASSES, LESSONS, STANDS, SCHOOL]
    : [ENGINES, CLASSES, LESSONS, STANDS];
  const ways = person.may_teach ? teaches : [TODAY, SHEETS, ENGINES];
  const { pathname } = useLocation();
  useTop();
  const chooseUnit = useChooseUnit();
  const other = person.unit === "mm" ? "thou" : "mm";
  return (
    <div className="shell">
      <nav className="rail" aria-label="Places">
        <div className="name">Edrix</div>
        {ways.map((way) => (
          <NavLink key={way.to} to={way.to}>
            <svg viewBox="0 0 24 24" aria-hidden="true">
              {way.icon}
            </svg>
            {way.label}
          </NavLink>
        ))}
        <div className="grow" />
        <button
          type="button"
          onClick={() => chooseUnit.mutate(other)}
          aria-label={`Lengths in ${person.unit} first; change to ${other}`}
        >
          <span className="figures">{person.unit}</span>
          first
        </button>
        <NavLink to={pathname.startsWith("/help") ? pathname : helpOf(pathname, person.may_teach)}>
          <svg viewBox="0 0 24 24" aria-hidden="true">
            <path d="M12 21a9 9 0 1 0 0-18 9 9 0 0 0 0 18zM9.5 9.5c0-3 5-3 5 0 0 2-2.500 2-2.500 4M12 17v.2" />
          </svg>
          Help
        </NavLink>
        <NavLink to="/me" title={person.display_name}>
          <svg viewBox="0 0 24 24" aria-hidden="true">
            <path d="M12 12a4 4 0 1 0 0-8 4 4 0 0 0 0 8zM4 21c0-4 3-7 8-7s8 3 8 7z" />
          </svg>
          Me
        </NavLink>
        <SignOut person={person} />
      </nav>
      <main className="place">{children}</main>
    </div>
  );
}

/** Nothing private stays on the device: what the school does not have yet is asked about first. */
function SignOut({ person }: { person: Person }) {
  const signOut = useSignOut();
  const [asked, setAsked] = useState(false);
  const leave = () => (unsentOf(person.id).length > 0 ? setAsked(true) : signOut.mutate(person));
  return (
    <>
      <button type="button" disabled={signOut.isPending} onClick={leave}>
        <svg viewBox="0 0 24 24" aria-hidden="true">
          <path d="M10 4H5v16h5M10 12h10m-4-4 4 4-4 4" />
        </svg>
        Sign out
      </button>
      <Confirm
        open={asked}
        title="Sign out, and lose what was not sent?"
        does="Sign out and lose it"
        instead="Stay signed in"
        pending={signOut.isPending}
        onClose={() => setAsked(false)}
        onConfirm={() => signOut.mutate(person)}
      >
        <p>
          Something that you wrote has not reached the school's server yet. It goes by itself when
          the network is back; signing out takes it off this device for good.
        </p>
        {signOut.isError && (
          <p className="notice" role="alert">
            {sentence(signOut.error)} You are still signed in.
          </p>
        )}
      </Confirm>
      <Dialog open={signOut.isError && !asked} title="Still signed in" onClose={signOut.reset}>
        <p>
          {sentence(signOut.error)} Signing out needs the server: until then whoever holds this
          device can go on as you.
        </p>
        <div className="dialog-ways">
          <button type="button" className="button main" onClick={signOut.reset}>
            Stay
          </button>
        </div>
      </Dialog>
    </>
  );
}
