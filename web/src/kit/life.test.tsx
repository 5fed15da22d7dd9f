/** What is put away is brought back by one tap; what is deleted is asked about, and told why not. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { ApiProblem } from "../api/client";
import { showOnDesk } from "../testing/render";
import { DataTable } from "./DataTable";
import { Life } from "./Life";

async function choose(item: string) {
  await userEvent.click(screen.getByRole("button", { name: "More for Stand 3" }));
  await userEvent.click(await screen.findByRole("menuitem", { name: item }));
}

describe("a thing in a list", () => {
  it("is put away, and back again by undoing it", async () => {
    const putAway = vi.fn(() => Promise.resolve());
    showOnDesk(<Life name="Stand 3" away={false} putAway={putAway} />);
    await choose("Put away");
    await screen.findByText(/Stand 3 is put away/);
    await userEvent.click(screen.getByRole("button", { name: "Undo" }));
    await waitFor(() => expect(putAway.mock.calls).toEqual([[true], [false]]));
  });

  it("is brought back where it is away", async () => {
    const putAway = vi.fn(() => Promise.resolve());
    showOnDesk(<Life name="Stand 3" away putAway={putAway} />);
    await choose("Bring back");
    await waitFor(() => expect(putAway).toHaveBeenCalledWith(false));
  });

  it("is not deleted unasked, and says what hangs on it", async () => {
    const why = "Stand 3 can't be deleted: it has 1 sheet.";
    const remove = vi.fn(() => Promise.reject(new ApiProblem(409, why)));
    showOnDesk(<Life name="Stand 3" away={false} putAway={vi.fn()} remove={remove} />);
    await choose("Delete…");
    await screen.findByText("Delete Stand 3?");
    expect(remove).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole("button", { name: "Delete for good" }));
    await screen.findByText(why);
    await userEvent.click(screen.getByRole("button", { name: "Keep it" }));
    expect(remove).toHaveBeenCalledTimes(1);
  });

  it("is out of sight in its list until it is asked for", async () => {
    const rows = [
      { name: "Stand 3", away: false },
      { name: "Stand 9", away: true },
    ];
    showOnDesk(
      <DataTable
        label="Stands"
        rows={rows}
        keyOf={(row) => row.name}
        away={(row) => row.away}
        columns={[{ title: "Stand", show: (row) => row.name }]}
      />,
    );
    expect(screen.queryByText("Stand 9")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "1 put away" }));
    await screen.findByText("Stand 9");
    expect(screen.queryByText("Stand 3")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Back to the list" }));
    await screen.findByText("Stand 3");
  });
});
