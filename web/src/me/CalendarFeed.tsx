/** One's own rota as a calendar: a file, or a secret address that a calendar program follows. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { ownRotaQuery } from "../api/rota";
import { sentence } from "../app/feedback";
import { day } from "../app/school";

export function CalendarFeed() {
  const { data: own } = useQuery(ownRotaQuery);
  const queries = useQueryClient();
  const [copied, setCopied] = useState(false);
  const again = () => queries.invalidateQueries({ queryKey: keys.ownRota });
  const renew = useMutation({
    mutationFn: () => unwrap(api.POST("/api/my/rota/feed")),
    onSuccess: () => {
      setCopied(false);
      again();
    },
  });
  const end = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/my/rota/feed")),
    onSuccess: () => {
      renew.reset();
      again();
    },
  });
  const since = own?.feed_since ?? null;
  const address = renew.data?.address;
  return (
    <section className="card">
      <h2>My rota in my own calendar</h2>
      <p className="soft">
        A calendar program can follow an address of your own. Whoever knows it reads your rota, so
        keep it to yourself; a new one ends the old.
      </p>
      {since !== null && !address && (
        <p>
          You have an address since {day(since)}. It is told once only; make a new one if you have
          lost it.
        </p>
      )}
      {address && (
        <p className="feed-address">
          <output className="figures">{address}</output>
          <button
            type="button"
            className="button"
            onClick={() => {
              // Over plain http a browser may have no clipboard; the address is there to be marked.
              navigator.clipboard?.writeText(address).then(() => setCopied(true));
            }}
          >
            {copied ? "Copied" : "Copy"}
          </button>
        </p>
      )}
      {(renew.error ?? end.error) !== null && (
        <p role="alert">{sentence(renew.error ?? end.error)}</p>
      )}
      <p className="feed-ways">
        <button
          type="button"
          className="button"
          disabled={renew.isPending}
          onClick={() => renew.mutate()}
        >
          {since === null ? "Make an address" : "Make a new address"}
        </button>
        {since !== null && (
          <button
            type="button"
            className="button"
            disabled={end.isPending}
            onClick={() => end.mutate()}
          >
            End the address
          </button>
        )}
        <a className="button" href="/api/my/rota.ics">
          As a file, .ics
        </a>
      </p>
    </section>
  );
}
