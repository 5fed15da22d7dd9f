/** What may become of a thing in a list: put away and brought back, deleted where nothing hangs on it. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert, App, Button, Dropdown, type MenuProps } from "antd";
import { useState } from "react";
import { sentence } from "../app/feedback";
import { Ask } from "./Ask";

type Way = { key: string; label: string; onClick: () => void; danger?: boolean };

/** What is said on the way out and back; things are put away, people leave. */
type Words = {
  away: string;
  back: string;
  wentAway: string;
  isBack: string;
  remove: string;
  asks: string;
  keep: string;
  does: string;
  warns: string;
};

const THINGS: Words = {
  away: "Put away",
  back: "Bring back",
  wentAway: "is put away.",
  isBack: "is back.",
  remove: "Delete…",
  asks: "Delete",
  keep: "Keep it",
  does: "Delete for good",
  warns: "This can't be taken back. Where anybody's work hangs on it, it is refused.",
};

type Props = {
  name: string;
  away: boolean;
  putAway: (away: boolean) => Promise<unknown>;
  remove?: () => Promise<unknown>;
  onRemoved?: () => void;
  /** Further ways, before these. */
  more?: readonly Way[];
  /** Said of putting it away: what goes on. */
  about?: string;
  words?: Words;
};

export function Life(props: Props) {
  const { name, away, putAway, remove, onRemoved, more = [], about, words = THINGS } = props;
  const queries = useQueryClient();
  const { message } = App.useApp();
  const [asking, setAsking] = useState(false);
  const again = () => queries.invalidateQueries();
  const move = useMutation({
    mutationFn: (now: boolean) => putAway(now),
    onSuccess: (_, now) => {
      again();
      const says = now ? `${name} ${words.wentAway} ${about ?? ""}` : `${name} ${words.isBack}`;
      void message.success?.({
        content: (
          <>
            {says}{" "}
            {now && (
              <Button type="link" size="small" onClick={() => move.mutate(false)}>
                Undo
              </Button>
            )}
          </>
        ),
        duration: 6,
      });
    },
    onError: (error) => void message.error?.(sentence(error)),
  });
  const destroy = useMutation({
    mutationFn: () => (remove ? remove() : Promise.resolve()),
    onSuccess: () => {
      setAsking(false);
      onRemoved?.();
      again();
    },
  });
  const items: MenuProps["items"] = [
    ...more,
    {
      key: "away",
      label: away ? words.back : words.away,
      onClick: () => move.mutate(!away),
    },
    ...(remove
      ? [{ key: "remove", label: words.remove, danger: true, onClick: () => setAsking(true) }]
      : []),
  ];
  return (
    <>
      <Dropdown
        menu={{ items, onClick: pressedOnce }}
        trigger={["click"]}
        autoFocus
        destroyOnHidden
      >
        <Button aria-label={`More for ${name}`} title="More" loading={move.isPending}>
          <Dots />
        </Button>
      </Dropdown>
      <Ask
        open={asking}
        title={`${words.asks} ${name}?`}
        instead={words.keep}
        does={words.does}
        danger
        pending={destroy.isPending}
        onClose={() => {
          setAsking(false);
          destroy.reset();
        }}
        onConfirm={() => destroy.mutate()}
      >
        <p>{words.warns}</p>
        {destroy.isError && <Alert type="error" showIcon title={sentence(destroy.error)} />}
      </Ask>
    </>
  );
}

/** The Enter that chose an item must not press the button that the dialog then has the focus on. */
function pressedOnce({ domEvent }: { domEvent: { preventDefault: () => void } }) {
  domEvent.preventDefault();
}

function Dots() {
  return (
    <svg viewBox="0 0 20 20" width="16" height="16" aria-hidden="true" fill="currentColor">
      <circle cx="4" cy="10" r="1.8" />
      <circle cx="10" cy="10" r="1.8" />
      <circle cx="16" cy="10" r="1.8" />
    </svg>
  );
}
