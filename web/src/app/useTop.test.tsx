/** Where a page stands after it was gone to. */
import { fireEvent, render, screen } from "@testing-library/react";
import { Link, MemoryRouter, useNavigate } from "react-router";
import { expect, it, vi } from "vitest";
import { useTop } from "./useTop";

function Page() {
  useTop();
  const go = useNavigate();
  return (
    <>
      <Link to="/work">My sheets</Link>
      <Link to="/me#device">Why</Link>
      <Link to="?unit=thou">thou</Link>
      <button type="button" onClick={() => go(-1)}>
        back
      </button>
    </>
  );
}

it("begins at the top, but for a part that was meant, a choice on it, and the way back", () => {
  const scrolled = vi.spyOn(window, "scrollTo").mockReturnValue(undefined);
  render(
    <MemoryRouter initialEntries={["/sheet/5"]}>
      <Page />
    </MemoryRouter>,
  );
  const press = (name: string) => fireEvent.click(screen.getByText(name));
  expect(scrolled).toHaveBeenCalledTimes(0);
  press("My sheets");
  expect(scrolled).toHaveBeenCalledExactlyOnceWith({ top: 0 });
  press("thou");
  press("back");
  press("back");
  press("Why");
  expect(scrolled).toHaveBeenCalledTimes(1);
});
