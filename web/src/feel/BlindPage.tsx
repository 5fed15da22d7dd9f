/** Blind feel: push and draw a leaf, name what was felt and guess the gap, then see it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useCallback, useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { blindQuery } from "../api/queries";
import { Choice } from "../app/Choice";
import { FigureInput } from "../app/FigureInput";
import { sentence, Waiting } from "../app/feedback";
import { mm, thou } from "../app/lengths";
import { useUnit } from "../app/session";
import { FeelPad } from "../practice/FeelPad";
import { SoundTick } from "../practice/SoundTick";
import type { Ask } from "../practice/useLeaf";
import { Feel } from "../progress/Feel";
import "../practice/practice.css";
import "./blind.css";

type Seen = Schemas["BlindSeenOut"];

const WORDS = [
  { value: "free", label: "Free" },
  { value: "drag", label: "Drags" },
  { value: "tight", label: "Only by force" },
  { value: "no", label: "Does not go" },
];
const CALLED = Object.fromEntries(WORDS.map(({ value, label }) => [value, label.toLowerCase()]));
const WANTED = 20;

export default function BlindPage() {
  const { classId = "" } = useParams();
  const { data: opened, error, isPending } = useQuery(blindQuery(Number(classId)));
  const [seen, setSeen] = useState<Seen | null>(null);
  const queries = useQueryClient();
  useEffect(() => {
    document.title = "Blind feel · Edrix";
  }, []);
  const next = () => {
    setSeen(null);
    queries.invalidateQueries({ queryKey: keys.blind(Number(classId)) });
  };
  const hand = seen?.hand ?? opened?.hand ?? null;
  const tries = seen?.tries ?? opened?.tries ?? 0;
  return (
    <div className="blind">
      <div className="place-head">
        <div>
          <h1>Blind feel</h1>
          <p>
            Push the leaf in and draw it, as often as you like. Name what you felt and guess the
            gap; then you see it. Twenty of them tell how fine your hand is.
          </p>
        </div>
        <Link className="button" to="/work">
          My sheets
        </Link>
      </div>
      {isPending && <Waiting />}
      {error && (
        <p className="notice" role="alert">
          {sentence(error)}
        </p>
      )}
      {opened &&
        (seen ? (
          <Told seen={seen} onNext={next} />
        ) : (
          <Open key={opened.id} opened={opened} onSeen={setSeen} />
        ))}
      <section className="card blind-hand" aria-label="Your hand">
        <h2>Your hand</h2>
        {hand ? (
          <Feel hand={hand} />
        ) : (
          <p className="soft">From the eighth on it shows here what you tell apart.</p>
        )}
        <p className="soft">
          <b className="figures">{tries}</b> felt so far
          {tries < WANTED ? `; ${WANTED - tries} more make twenty.` : ". The last twenty count."}
        </p>
      </section>
    </div>
  );
}

type OpenProps = { opened: Schemas["BlindOut"]; onSeen: (seen: Seen) => void };

function Open({ opened, onSeen }: OpenProps) {
  const unit = useUnit();
  const [leaves] = useState([opened.leaf_um]);
  const [ask, setAsk] = useState<Ask | null>(null);
  const onAsked = useCallback(() => setAsk(null), []);
  const [pushed, setPushed] = useState(false);
  const [sound, setSound] = useState(true);
  const [named, setNamed] = useState<string | null>(null);
  const [gap, setGap] = useState("");
  const place = { params: { path: { try_id: opened.id } } };
  const guess = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/blind-feel/{try_id}/guess", {
          ...place,
          body: { named: named ?? "", gap, unit },
        }),
      ),
    onSuccess: onSeen,
  });
  const push = useMutation({
    mutationFn: () => unwrap(api.POST("/api/blind-feel/{try_id}/pushes", place)),
  });
  const { mutateAsync } = push;
  const act = useCallback(async () => {
    try {
      const told = await mutateAsync();
      setPushed(true);
      return { step: 0, asks: null, says: "", facts: told };
    } catch {
      return null; // said below
    }
  }, [mutateAsync]);
  return (
    <form
      className="card blind-open"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        guess.mutate();
      }}
    >
      <FeelPad
        valve={0}
        gap="opening"
        leaves={leaves}
        bodyUm={null}
        angled={false}
        unit={unit}
        part="rocker"
        sound={sound}
        bridged={false}
        blind
        ask={ask}
        onAsked={onAsked}
        act={act}
      />
      <div className="feel-ways">
        <button type="button" className="button" onClick={() => setAsk({ nearOnly: false })}>
          Push and draw it
        </button>
        <SoundTick on={sound} onTick={setSound} />
      </div>
      <Choice label="What you felt" options={WORDS} value={named} onChoose={setNamed} />
      <label>
        The gap, {unit}
        <FigureInput maxLength={12} aria-label="The gap" value={gap} onType={setGap} />
      </label>
      {(push.error ?? guess.error) && (
        <p className="notice" role="alert">
          {sentence(push.error ?? guess.error)}
        </p>
      )}
      <button
        type="submit"
        className="button main"
        disabled={!pushed || named === null || gap.trim() === "" || guess.isPending}
      >
        See it
      </button>
      {!pushed && <p className="soft">Push it in once before you guess.</p>}
    </form>
  );
}

function Told({ seen, onNext }: { seen: Seen; onNext: () => void }) {
  const off = Math.abs(seen.off_mm);
  return (
    <section className="card blind-told" aria-label="What it was" aria-live="polite">
      <p className="headline">
        It was <b className="figures">{seen.gap_mm.toFixed(3)} mm</b> ({thou(seen.gap_mm)}).
      </p>
      <p>
        {off < 0.0005
          ? "You guessed it exactly."
          : `You guessed ${off < 0.01 ? `${off.toFixed(3)} mm` : mm(off)} too ${seen.off_mm > 0 ? "large" : "small"}.`}
      </p>
      <p>{seen.right_word ? "✓ Named rightly" : `✗ Such a leaf is called: ${CALLED[seen.word]}`}</p>
      <button type="button" className="button main" onClick={onNext}>
        The next one
      </button>
    </section>
  );
}
