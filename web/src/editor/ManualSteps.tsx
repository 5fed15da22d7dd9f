/** The steps of the editor, in the order in which a manual's page gives them. */
import { AroundStep } from "./AroundStep";
import { EngineStep, FiringStep } from "./EngineSteps";
import type { Change, Form } from "./form";
import { AdjusterStep, ClearanceStep, TimingStep } from "./RoleSteps";
import { SizesStep } from "./SizesStep";
import { ChartStep, MarksStep } from "./TableSteps";

type Props = { form: Form; change: Change };

export function ManualSteps({ form, change }: Props) {
  return (
    <>
      <EngineStep form={form} change={change} />
      <FiringStep form={form} change={change} />
      <ClearanceStep form={form} change={change} />
      <TimingStep form={form} change={change} />
      <AdjusterStep form={form} change={change} />
      <MarksStep form={form} change={change} />
      <ChartStep form={form} change={change} />
      <SizesStep form={form} change={change} />
      <AroundStep form={form} change={change} />
    </>
  );
}
