/** What most of a class contradict in the key: said before anybody is failed by it. */
import { Alert } from "antd";

export function KeyDoubts({ doubts }: { doubts: readonly string[] }) {
  return doubts.map((doubt) => <Alert key={doubt} type="warning" showIcon title={doubt} />);
}
