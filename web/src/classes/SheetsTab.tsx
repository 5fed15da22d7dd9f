/** Reading sheets of a class: how far each is, and setting one. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Button, Empty } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { classSheetsQuery } from "../api/queries";
import { mm } from "../app/lengths";
import { useMethods } from "../app/methods";
import { DataTable } from "../kit/DataTable";
import { Named } from "../kit/Rename";
import { SetSheet } from "./SetSheet";

type Row = Schemas["SheetRow"];

export function SheetsTab({ classId }: { classId: number }) {
  const { data: sheets } = useSuspenseQuery(classSheetsQuery(classId));
  const titles = new Map(useMethods().map((method) => [method.name, method.title]));
  const methodOf = (sheet: Row) => titles.get(sheet.method) ?? sheet.method;
  const [setting, setSetting] = useState(false);
  return (
    <div className="tab">
      <div className="ways">
        <Button type="primary" onClick={() => setSetting(true)}>
          Set a sheet
        </Button>
      </div>
      <DataTable
        label="Reading sheets"
        rows={sheets}
        keyOf={(sheet) => sheet.id}
        empty={<Empty description="No sheet set yet. Its stand needs a key first." />}
        columns={[
          {
            title: "Sheet",
            show: (s: Row) => (
              <Named
                name={s.title}
                maxLength={120}
                save={(title) =>
                  unwrap(
                    api.PATCH("/api/sheets/{sheet_id}", {
                      params: { path: { sheet_id: s.id } },
                      body: { title },
                    }),
                  )
                }
              >
                <Link to={`/board/${s.id}`}>{s.title}</Link>
              </Named>
            ),
            sort: (s) => s.title,
            find: (s) => s.title,
          },
          {
            title: "Stand",
            show: (s) => `${s.stand}, key ${s.key_number}`,
            sort: (s) => s.stand,
            filter: (s) => s.stand,
          },
          { title: "Method", show: methodOf, sort: methodOf, filter: methodOf },
          {
            title: "Tolerance",
            show: (s) => <span className="figures">±{mm(Number(s.tolerance_mm))}</span>,
            sort: (s) => Number(s.tolerance_mm),
          },
          {
            title: "Set",
            show: (s) => new Date(s.set_at).toLocaleDateString([], { dateStyle: "medium" }),
            sort: (s) => s.set_at,
          },
          { title: "Handed in", right: true, show: (s) => s.handed_in, sort: (s) => s.handed_in },
          {
            title: "Card",
            right: true,
            show: (s) => (
              <Link className="button" to={cardOf(s)}>
                Route card
              </Link>
            ),
          },
        ]}
      />
      <SetSheet classId={classId} open={setting} onClose={() => setSetting(false)} />
    </div>
  );
}

function cardOf(sheet: Row): string {
  const { engine_id, engine_version, method, id } = sheet;
  return `/route/${engine_id}?method=${method}&version=${engine_version}&sheet=${id}&qr=yes`;
}
