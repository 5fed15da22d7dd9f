/** The shim store: what lies where, what is short, what is held back, and what came and went. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Button, Empty, Tabs } from "antd";
import { useState } from "react";
import { storeQuery } from "../api/workshop";
import { moment } from "../app/school";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { Book, type Booking } from "./Book";
import { CountGrid } from "./CountGrid";
import { HeldList } from "./HeldList";
import { NewSize } from "./NewSize";
import { SwapPlan } from "./SwapPlan";
import { moved, type ShimMove, type Stock, size } from "./words";
import "./store.css";

export default function StorePage() {
  const { data: store } = useSuspenseQuery(storeQuery);
  const [booking, setBooking] = useState<Booking | null>(null);
  const [counting, setCounting] = useState(false);
  const short = store.sizes.filter((stock) => stock.short > 0);
  return (
    <Desk
      title="Shim store"
      from={{ to: "/stands", title: "Stands" }}
      about={
        store.sizes.length > 0 &&
        `${store.sizes.length} sizes, ${short.length === 0 ? "none" : short.length} short`
      }
      ways={
        <>
          {store.sizes.length > 0 && (
            <Button onClick={() => setCounting(true)}>Count the boxes</Button>
          )}
          <NewSize />
        </>
      }
    >
      {short.length > 0 && <Short short={short} />}
      <Tabs
        items={[
          {
            key: "boxes",
            label: "Boxes",
            children: (
              <DataTable
                label="Shims"
                rows={store.sizes}
                keyOf={(stock) => stock.id}
                columns={boxes(setBooking)}
                empty={
                  <Empty description="No shim yet. Add a size with what lies there; the measured size counts, not the stamp." />
                }
              />
            ),
          },
          {
            key: "plan",
            label: "Plan for engines",
            children: <SwapPlan sizes={store.sizes} />,
          },
          {
            key: "held",
            label: store.held.length > 0 ? `Held back (${store.held.length})` : "Held back",
            children: <HeldList held={store.held} />,
          },
          {
            key: "moves",
            label: "In and out",
            children: (
              <DataTable
                label="Moves"
                rows={store.moves}
                keyOf={(move) => move.id}
                columns={MOVES}
                empty={<Empty description="Nothing has come or gone yet." />}
              />
            ),
          },
        ]}
      />
      <Book booking={booking} onClose={() => setBooking(null)} />
      <CountGrid open={counting} sizes={store.sizes} onClose={() => setCounting(false)} />
    </Desk>
  );
}

/** What is short, as it would be ordered. */
function Short({ short }: { short: readonly Stock[] }) {
  return (
    <section className="card short-list" aria-label="Short">
      <h2>To order</h2>
      <ul className="figures">
        {short.map((stock) => (
          <li key={stock.id}>
            <b>{stock.short}</b> of {size(stock.size_mm)} mm, {Number(stock.diameter_mm)} across
          </li>
        ))}
      </ul>
      <div className="ways">
        <a className="button" href="/api/store/order.csv">
          Order list, CSV
        </a>
        <a className="button" href="/api/store/order.pdf" target="_blank" rel="noreferrer">
          Order list, PDF
        </a>
      </div>
    </section>
  );
}

function boxes(book: (booking: Booking) => void): readonly DataColumn<Stock>[] {
  return [
    {
      title: "Size, mm",
      show: (stock) => <b className="figures">{size(stock.size_mm)}</b>,
      sort: (stock) => Number(stock.size_mm),
      find: (stock) => `${size(stock.size_mm)} ${stock.place}`,
    },
    {
      title: "Across, mm",
      show: (stock) => <span className="figures">{Number(stock.diameter_mm)}</span>,
      filter: (stock) => `${Number(stock.diameter_mm)} mm`,
    },
    {
      title: "There",
      right: true,
      show: (stock) => <span className="figures">{stock.count}</span>,
      sort: (stock) => stock.count,
    },
    {
      title: "Free",
      right: true,
      show: (stock) => (
        <span className="figures">
          {stock.free}
          {stock.held > 0 && <span className="soft"> ({stock.held} held)</span>}
        </span>
      ),
      sort: (stock) => stock.free,
    },
    {
      title: "At least",
      right: true,
      show: (stock) => (
        <span className="figures">
          {stock.least}
          {stock.short > 0 && <b className="is-short"> {stock.short} short</b>}
        </span>
      ),
      sort: (stock) => stock.least,
    },
    { title: "Place", show: (stock) => stock.place, sort: (stock) => stock.place || null },
    {
      title: "In and out",
      right: true,
      show: (stock) => (
        <span className="in-and-out">
          <Button
            aria-label={`Take out of ${size(stock.size_mm)} mm`}
            disabled={stock.free === 0}
            onClick={() => book({ stock, way: -1 })}
          >
            Out
          </Button>
          <Button
            aria-label={`Put into ${size(stock.size_mm)} mm`}
            onClick={() => book({ stock, way: 1 })}
          >
            In
          </Button>
        </span>
      ),
    },
  ];
}

const MOVES: readonly DataColumn<ShimMove>[] = [
  { title: "When", show: (move) => <span className="figures">{moment(move.made_at)}</span> },
  { title: "What", show: moved, find: moved },
  {
    title: "There after",
    right: true,
    show: (move) => <span className="figures">{move.count_after}</span>,
  },
  { title: "By", show: (move) => move.made_by, filter: (move) => move.made_by },
];
