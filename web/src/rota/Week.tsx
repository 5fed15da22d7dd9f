/** The week as a wall would show it: slots down, places across, and what is wrong above. */
import { Alert, Empty } from "antd";
import { useMemo, useState } from "react";
import { BookingPanel, type Picked } from "./BookingPanel";
import { PlanBar } from "./PlanBar";
import {
  type Booking,
  byDay,
  clockOf,
  dayWords,
  missingWords,
  pairsWords,
  type Rota,
  slotWords,
  taskOf,
  who,
} from "./words";

type Props = {
  rota: Rota;
  /** Something that the plan rests on is not saved yet. */
  waits: boolean;
};

export function Week({ rota, waits }: Props) {
  const [picked, setPicked] = useState<Picked | null>(null);
  const places = rota.wish.places ?? [];
  return (
    <div className="tab rota-tab">
      <PlanBar rota={rota} waits={waits} />
      <Faults rota={rota} />
      {rota.bookings.length === 0 && places.length === 0 && (
        <Empty description="Nothing is planned yet. Say which days, places and tasks it holds." />
      )}
      {places.length > 0 &&
        byDay(rota.wish.slots ?? []).map(([day, slots]) => (
          <Day key={day} rota={rota} slots={slots} onPick={setPicked} />
        ))}
      <BookingPanel rota={rota} picked={picked} onClose={() => setPicked(null)} />
    </div>
  );
}

/** A place narrower than this breaks names. */
const PLACE_PX = 124;
const SLOT_PX = 84;

type DayProps = {
  rota: Rota;
  slots: NonNullable<Rota["wish"]["slots"]>;
  onPick: (picked: Picked) => void;
};

function Day({ rota, slots, onPick }: DayProps) {
  const places = rota.wish.places ?? [];
  const at = useMemo(
    () => new Map(rota.bookings.map((one) => [`${one.slot} ${one.place}`, one])),
    [rota.bookings],
  );
  const blocked = useMemo(
    () => new Map(rota.blocked.map((one) => [`${one.slot} ${one.place}`, one.why])),
    [rota.blocked],
  );
  const day = dayWords(slots[0]?.start ?? "");
  return (
    <section className="rota-day" aria-label={day}>
      <table className="rota-table" style={{ minWidth: SLOT_PX + places.length * PLACE_PX }}>
        <caption>{day}</caption>
        <thead>
          <tr>
            <th scope="col">Slot</th>
            {places.map((place) => (
              <th key={place.key} scope="col">
                {place.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {slots.map((slot) => (
            <tr key={slot.start}>
              <th scope="row" className="figures">
                {clockOf(slot.start)}
                <span className="soft"> to {clockOf(slot.end)}</span>
              </th>
              {places.map((place) => {
                const key = `${slot.start} ${place.key}`;
                const why = blocked.get(key);
                return (
                  <td key={place.key} className={why ? "is-blocked" : undefined}>
                    <Cell
                      rota={rota}
                      booking={at.get(key)}
                      why={why}
                      label={`${place.name}, ${slotWords(slot.start)}`}
                      onPick={() =>
                        onPick({ slot: slot.start, place: place.key, booking: at.get(key) ?? null })
                      }
                    />
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

type CellProps = {
  rota: Rota;
  booking: Booking | undefined;
  why: string | undefined;
  label: string;
  onPick: () => void;
};

function Cell({ rota, booking, why, label, onPick }: CellProps) {
  if (booking === undefined) {
    return (
      <button type="button" className="rota-free" aria-label={`${label}: free`} onClick={onPick}>
        {why ? <span className="soft">{why}</span> : <span aria-hidden="true">+</span>}
      </button>
    );
  }
  const task = taskOf(rota, booking.task);
  const isBroken = rota.broken.some((one) => one.bookings.includes(booking.id));
  return (
    <button
      type="button"
      className={`rota-booking${isBroken ? " is-broken" : ""}`}
      aria-label={`${label}: ${task}`}
      onClick={onPick}
    >
      <span className="rota-task">
        {task}
        {booking.pinned && <span title="Pinned: stays when it is planned anew"> · pinned</span>}
      </span>
      {booking.students.map((id) => (
        <span key={id} className="rota-name">
          {who(rota, id)}
        </span>
      ))}
      {isBroken && <span className="rota-mark">breaks a rule</span>}
      {why && <span className="rota-mark">{why}</span>}
    </button>
  );
}

/** What breaks, and what is missing with its reason. */
function Faults({ rota }: { rota: Rota }) {
  return (
    <>
      {rota.broken.length > 0 && (
        <Alert
          type="error"
          showIcon
          title={`${rota.broken.length === 1 ? "One rule is" : `${rota.broken.length} rules are`} broken by the bookings as they stand`}
          description={
            <ul className="rota-list">
              {rota.broken.map((one) => (
                <li key={one.says}>{one.says}</li>
              ))}
            </ul>
          }
        />
      )}
      {rota.bookings.length > 0 && (
        <p className="rota-sum">
          As it stands, <b>{missingWords(rota.missing.length)}</b> and {pairsWords(rota.repeats)}.
        </p>
      )}
      {rota.missing.length > 0 && (
        <details className="rota-missing" open={rota.missing.length <= 4}>
          <summary>Why not, and what would make room</summary>
          <ul className="rota-list">
            {rota.missing.map((one) => (
              <li key={`${one.student} ${one.task}`}>
                <b>
                  {who(rota, one.student)}, {taskOf(rota, one.task)}
                </b>
                {one.why
                  ? `: ${one.why}.${one.helps && ` Would help: ${one.helps}.`}`
                  : ": Edrix has not proven that this place must be missing. Another plan may have room."}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
