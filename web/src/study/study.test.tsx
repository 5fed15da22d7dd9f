/** The study and the findings as an instructor reads them. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { Findings } from "../marking/Findings";
import { INES, problem, serve, show } from "../testing/render";
import StudyPage from "./StudyPage";

const TOVE = { ...INES, display_name: "Tove Lindqvist", may_teach: true };
const STUDY: Schemas["StudyOut"] = {
  gap: "opening",
  stand: "Stand 5",
  engine: "Tarnholt P4 fire pump",
  class_id: 2,
  trials: ["Feel, trial 1", "Feel, trial 2"],
  students: 2,
  valves: 8,
  left_out: [{ student: "Tuva Berg", why: "no sheet “Feel, trial 2”" }],
  anova: [
    { source: "valves", df: 7, ss_um2: 90000, ms_um2: 12857, f: 60.5, p: 0.0001 },
    { source: "repeatability", df: 16, ss_um2: 3400, ms_um2: 212, f: null, p: null },
  ],
  components: [
    { source: "valves", deviation_mm: 0.074, share_variance: 90, share_study: 95 },
    { source: "students", deviation_mm: 0.017, share_variance: 4, share_study: 20 },
    { source: "students x valves", deviation_mm: 0, share_variance: 0, share_study: 0 },
    { source: "repeatability", deviation_mm: 0.0145, share_variance: 6, share_study: 24 },
  ],
  categories: 4,
  pooled: true,
  feel: [],
  hands: [
    {
      student: "Arvid Pell",
      bias_mm: -0.029,
      bias_low_mm: -0.034,
      bias_high_mm: -0.024,
      spread_mm: 0.009,
      spread_low_mm: 0.007,
      spread_high_mm: 0.013,
      agreed: { kappa: 0.48, judged: 16, alike: 11 },
    },
    {
      student: "Signe Moltke",
      bias_mm: -0.0001,
      bias_low_mm: -0.004,
      bias_high_mm: 0.004,
      spread_mm: 0.007,
      spread_low_mm: 0.005,
      spread_high_mm: 0.01,
      agreed: null,
    },
  ],
  hardest: [{ valve: 6, role: "intake", spread_mm: 0.046 }],
  together: { kappa: 0.53, judged: 16, alike: 9 },
  says: ["The class is 31 % of the study's spread."],
};

const TRIALS: Schemas["TrialsOut"] = {
  stand: "Stand 5",
  class_id: 2,
  gaps: ["opening"],
  trials: [1, 2].map((id) => ({
    id,
    title: `Feel, trial ${id}`,
    set_at: "2026-11-25T08:00:00Z",
    handed_in: 2,
    proposed: true,
  })),
};

function study(answer: object) {
  serve((call) => {
    if (call.path.startsWith("/api/stands/2/study")) return answer as never;
    if (call.path.startsWith("/api/stands/2/trials")) return { body: TRIALS };
  });
  show(<StudyPage />, { path: "/study/2", route: "/study/:standId", person: TOVE });
}

describe("the gauge study", () => {
  it("tells what spreads the readings, whose hand, which valve, and who is left out", async () => {
    study({ body: STUDY });
    expect(await screen.findByText("90.0 %")).toBeTruthy();
    expect(screen.getByText(/Tuva Berg \(no sheet “Feel, trial 2”\)/)).toBeTruthy();
    const hands = within(screen.getByRole("region", { name: "Bias and repeatability by student" }));
    // Each mark of a chart tells its figures to whoever hovers, taps or comes by keys.
    expect(
      hands.getByRole("img", {
        name: "Arvid Pell: bias −0.029 mm, repeatability ±0.009 mm, κ 0.48 (11 of 16 alike)",
      }),
    ).toBeTruthy();
    expect(hands.getByText(/reading less key, mm/)).toBeTruthy();
    expect(hands.getByText(/κ 0.53 \(Fleiss\)/)).toBeTruthy();
    expect(screen.getByRole("img", { name: "Valve 6, intake: 0.046 mm" })).toBeTruthy();
  });

  it("gives no sign to what is nothing", async () => {
    study({ body: STUDY });
    await screen.findByText("90.0 %");
    expect(screen.queryByText(/[−+]0.000/)).toBeNull();
    expect(screen.getByRole("img", { name: /Signe Moltke: bias 0.000 mm/ })).toBeTruthy();
  });

  it("shows its arithmetic when it is asked for", async () => {
    const user = userEvent.setup();
    study({ body: STUDY });
    await user.click(await screen.findByText("Analysis of variance"));
    const table = within(screen.getByRole("table", { name: "Analysis of variance" }));
    expect(table.getByText("60.50")).toBeTruthy();
    expect(screen.getByText(/pooled into repeatability/)).toBeTruthy();
  });

  it("is of the closing gap where that is asked for, without verdicts", async () => {
    const user = userEvent.setup();
    const asked: (string | null)[] = [];
    serve((call) => {
      const gap = new URL(call.path, "http://edrix.test").searchParams.get(
        "gap",
      ) as Schemas["StudyOut"]["gap"];
      if (call.path.startsWith("/api/stands/2/trials")) {
        return { body: { ...TRIALS, gaps: ["opening", "closing"] } };
      }
      if (!call.path.startsWith("/api/stands/2/study")) return undefined;
      asked.push(gap);
      return { body: { ...STUDY, gap } };
    });
    show(<StudyPage />, { path: "/study/2", route: "/study/:standId", person: TOVE });
    expect(await screen.findByText(/κ tells/)).toBeTruthy();
    await user.click(screen.getByText("closing gap"));
    await screen.findByText("90.0 %");
    await waitFor(() => expect(screen.queryByText(/κ tells/)).toBeNull());
    expect(asked).toEqual(["opening", "closing"]);
  });

  it("says what is missing for a study", async () => {
    study({ status: 409, body: problem(409, "Stand 5 has 1 sheet on its newest key.") });
    expect(await screen.findByText(/1 sheet on its newest key/)).toBeTruthy();
  });
});

describe("findings", () => {
  const finding = (more: Partial<Schemas["FindingOut"]>): Schemas["FindingOut"] => ({
    kind: "decimal-slip",
    label: "slipped decimal point",
    about: "the point one place off",
    valves: [6],
    log_odds: 3,
    says: "A slipped decimal point explains valve 6.",
    arithmetic: ["valve 6: written 2.7 mm; one place to the right: 2.920 mm"],
    with_student: null,
    with_hand_in: null,
    ...more,
  });

  it("come with their arithmetic, and lead to an equal sheet", () => {
    const copied = finding({
      kind: "copied",
      label: "equal to another sheet",
      says: "8 of 8 figures are equal.",
      with_student: "Bo Hallgrim",
      with_hand_in: 9,
    });
    serve(() => undefined);
    show(<Findings findings={[finding({}), copied]} />, {
      path: "/x",
      route: "/x",
      person: TOVE,
    });
    expect(screen.getByText("slipped decimal point")).toBeTruthy();
    expect(screen.getAllByText(/one place to the right/)).toHaveLength(2);
    const twin = screen.getByRole("link", { name: "The sheet of Bo Hallgrim" });
    expect(twin.getAttribute("href")).toBe("/hand-in/9");
  });

  it("say so where nothing explains the figures", () => {
    serve(() => undefined);
    show(<Findings findings={[]} />, { path: "/x", route: "/x", person: TOVE });
    expect(screen.getByText(/Nothing explains these figures/)).toBeTruthy();
  });
});
