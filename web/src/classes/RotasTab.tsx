/** Rotas of a class: the weeks that were planned, and a new one. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Empty, Form, Select } from "antd";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { rotasQuery } from "../api/rota";
import { day } from "../app/school";
import { DataTable } from "../kit/DataTable";
import { Life } from "../kit/Life";
import { NewNamed } from "../kit/NewNamed";
import { changeRota } from "../rota/changeRota";
import { dayWords } from "../rota/words";

type Line = Schemas["RotaLine"];
type Made = { name: string; based_on?: number | null };
const isAway = (rota: Line) => rota.away;

export function RotasTab({ classId }: { classId: number }) {
  const { data: rotas } = useSuspenseQuery(rotasQuery(classId));
  const go = useNavigate();
  return (
    <div className="tab">
      <div className="ways">
        <NewNamed
          title="New rota"
          does="Make it"
          wanted="Give the rota a title"
          placeholder="Week 49"
          maxLength={120}
          make={({ name, based_on }: Made) =>
            unwrap(
              api.POST("/api/classes/{class_id}/rotas", {
                params: { path: { class_id: classId } },
                body: { title: name, based_on: based_on ?? null },
              }),
            )
          }
          onMade={(made) => go(`/rota/${made.id}/holds`)}
        >
          {rotas.length > 0 && (
            <Form.Item
              name="based_on"
              label="As an earlier one, a week later"
              extra="Its slots, places and tasks; who is away is asked anew."
            >
              <Select
                allowClear
                placeholder="Begin empty"
                options={rotas.map((one) => ({ value: one.id, label: one.title }))}
              />
            </Form.Item>
          )}
        </NewNamed>
      </div>
      <DataTable
        label="Rotas"
        rows={rotas}
        keyOf={(one) => one.id}
        away={isAway}
        empty={
          <Empty description="No rota yet. It plans who works with whom, at which stand, on which task and when." />
        }
        columns={[
          {
            title: "Rota",
            show: (one) => <Link to={`/rota/${one.id}`}>{one.title}</Link>,
            sort: (one) => one.title,
            find: (one) => one.title,
          },
          {
            title: "From",
            show: (one) => one.first && dayWords(one.first),
            sort: (one) => one.first,
          },
          { title: "To", show: (one) => one.last && dayWords(one.last), sort: (one) => one.last },
          { title: "Bookings", right: true, show: (one) => one.bookings },
          {
            title: "Posted",
            show: (one) =>
              one.posted_at ? day(one.posted_at) : <span className="soft">not yet</span>,
          },
          {
            title: "More",
            right: true,
            show: (one) => (
              <Life
                name={one.title}
                away={one.away}
                about="Its students see it no more."
                putAway={(away) => changeRota(one.id, { away })}
                remove={() =>
                  unwrap(
                    api.DELETE("/api/rotas/{rota_id}", { params: { path: { rota_id: one.id } } }),
                  )
                }
              />
            ),
          },
        ]}
      />
    </div>
  );
}
