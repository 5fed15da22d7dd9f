/** Who is away in which slot: a grid to tick, or out of somebody's calendar; and who is kept apart. */
import { useMutation } from "@tanstack/react-query";
import { Button, Empty, Select } from "antd";
import { useRef, useState } from "react";
import { api, unwrap } from "../api/client";
import { fileBody } from "../api/files";
import { Problem } from "../kit/Problem";
import { useSaid } from "../kit/useSaid";
import type { Wishing } from "./useWish";
import { byDay, clockOf, dayWords, type Rota, shortDay, type Wish, who } from "./words";

type Props = { rota: Rota; wishing: Wishing };

export function AwayGrid({ rota, wishing }: Props) {
  const { wish, set } = wishing;
  const days = byDay(wish.slots ?? []);
  if (days.length === 0) {
    return <Empty description="Add slots first; then it can be said who is away in which." />;
  }
  const away = wish.away ?? {};
  const put = (who: string, slots: readonly string[]) =>
    set({ ...wish, away: { ...away, [who]: [...slots].sort() } });
  const people = [
    ...rota.instructors.map((one) => ({ ...one, key: `instructor-${one.id}`, role: "instructor" })),
    ...rota.students.map((one) => ({ ...one, key: `student-${one.id}`, role: "" })),
  ];
  return (
    <div className="tab rota-tab">
      <div className="away-scroll">
        <table className="away-grid">
          <thead>
            <tr>
              <th scope="col">Away</th>
              {days.map(([day, slots]) => (
                <th key={day} scope="colgroup" colSpan={slots.length}>
                  {shortDay(slots[0]?.start ?? "")}
                </th>
              ))}
              <th scope="col">Calendar</th>
            </tr>
          </thead>
          <tbody>
            {people.map((one) => (
              <tr key={one.key}>
                <th scope="row">
                  {one.name} {one.role && <span className="soft">{one.role}</span>}
                </th>
                {days.map(([, slots]) =>
                  slots.map((slot) => {
                    const is = away[one.key]?.includes(slot.start) ?? false;
                    const rest = (away[one.key] ?? []).filter((start) => start !== slot.start);
                    return (
                      <td key={slot.start}>
                        <button
                          type="button"
                          aria-pressed={is}
                          className="away-cell"
                          aria-label={`${one.name} away ${dayWords(slot.start)} ${clockOf(slot.start)}`}
                          onClick={() => put(one.key, is ? rest : [...rest, slot.start])}
                        >
                          {is ? "away" : clockOf(slot.start)}
                        </button>
                      </td>
                    );
                  }),
                )}
                <td>
                  <FromCalendar
                    rotaId={rota.id}
                    name={one.name}
                    waits={wishing.changed && wish.slots !== rota.wish.slots}
                    onFound={(slots) =>
                      put(one.key, [...new Set([...(away[one.key] ?? []), ...slots])])
                    }
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Apart rota={rota} wish={wish} onChange={set} />
    </div>
  );
}

type CalendarProps = {
  rotaId: number;
  name: string;
  waits: boolean;
  onFound: (slots: readonly string[]) => void;
};

function FromCalendar({ rotaId, name, waits, onFound }: CalendarProps) {
  const field = useRef<HTMLInputElement>(null);
  const said = useSaid();
  const read = useMutation({
    mutationFn: (file: File) =>
      unwrap(
        api.POST("/api/rotas/{rota_id}/away", {
          params: { path: { rota_id: rotaId } },
          ...fileBody(file),
        }),
      ),
    onSuccess: ({ slots }) => {
      said(slots.length === 0 ? "Nothing in it touches a slot." : "Marked; save to let it count.");
      onFound(slots);
    },
  });
  return (
    <>
      <input
        ref={field}
        type="file"
        hidden
        accept=".ics,text/calendar"
        aria-label={`Calendar of ${name}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) read.mutate(file);
          event.target.value = "";
        }}
      />
      <Button
        size="small"
        disabled={waits}
        loading={read.isPending}
        aria-label={`Read when ${name} is away from a calendar`}
        title={waits ? "Save the slots first" : "An .ics file; each event in it is away"}
        onClick={() => field.current?.click()}
      >
        .ics
      </Button>
      <Problem error={read.error} />
    </>
  );
}

function Apart({ rota, wish, onChange }: { rota: Rota; wish: Wish; onChange: (w: Wish) => void }) {
  const [pair, setPair] = useState<number[]>([]);
  const apart = wish.apart ?? [];
  return (
    <section className="card apart">
      <h2>Kept apart</h2>
      <p className="soft">Two who never share a place. Only instructors see this.</p>
      {apart.map((two) => (
        <p key={two.join(" ")} className="ways">
          {who(rota, two[0])} and {who(rota, two[1])}
          <Button
            aria-label={`Let ${who(rota, two[0])} and ${who(rota, two[1])} work together`}
            onClick={() => onChange({ ...wish, apart: apart.filter((one) => one !== two) })}
          >
            Take out
          </Button>
        </p>
      ))}
      <div className="ways">
        <Select
          mode="multiple"
          maxCount={2}
          value={pair}
          className="apart-two"
          aria-label="Two to keep apart"
          placeholder="Two students"
          optionFilterProp="label"
          onChange={setPair}
          options={rota.students.map((one) => ({ value: one.id, label: one.name }))}
        />
        <Button
          disabled={pair.length !== 2}
          onClick={() => {
            onChange({ ...wish, apart: [...apart, pair] });
            setPair([]);
          }}
        >
          Keep apart
        </Button>
      </div>
    </section>
  );
}
