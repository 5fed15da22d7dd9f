/** New passcodes, shown this once to the instructor who made them. */
import { Button } from "antd";
import type { Schemas } from "../api/client";

type Props = { people: Schemas["NewStudentOut"][]; onDone: () => void };

export function Passcodes({ people, onDone }: Props) {
  return (
    <section className="notice calm passcodes" aria-label="Passcodes">
      <h2>Passcodes, shown this once: write them down or print this page</h2>
      <table>
        <tbody>
          {people.map((person) => (
            <tr key={person.id}>
              <th scope="row">{person.display_name}</th>
              <td className="figures">{person.sign_in_name}</td>
              <td className="figures">
                <b>{person.passcode ?? "has one already"}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="ways">
        <Button onClick={() => window.print()}>Print</Button>
        <Button onClick={onDone}>I have them</Button>
      </div>
    </section>
  );
}
