/** Where phones open this Edrix, with a code to scan; or why they cannot, and what helps. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { addressQuery } from "../api/queries";
import "./phones.css";

export function PhonesCard() {
  const { data } = useQuery(addressQuery);
  if (data === undefined) return null;
  if (data.address === null) {
    return (
      <p className="notice calm">
        Phones can’t open this Edrix yet: it listens on this machine only. Start it again with{" "}
        <code>--host 0.0.0.0</code>;{" "}
        <Link to="/help/instructors/where-and-how-it-runs">what that means</Link>.
      </p>
    );
  }
  return (
    <section className="card phones-card" aria-label="For phones">
      <img src="/api/qr.svg?path=%2F" width="104" height="104" alt="QR code to the sign-in page" />
      <p>
        Phones open <b>{data.address.replace(/\/$/, "")}</b>
        <span className="soft">
          Scan it in the hall, or type it. Students sign in with the slips that you print from their
          class.
        </span>
      </p>
    </section>
  );
}
