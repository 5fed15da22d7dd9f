/** Whether one's pages open on this device without a network, and what is missing where not. */
import { canBeKept } from "../app/serviceWorker";

export function OnThisDevice() {
  return (
    <section className="card" id="device">
      <h2>Without a network</h2>
      {canBeKept() ? (
        <p>
          Today, your sheets and your practice list open on this device without a network too. What
          you hand in there waits, and goes by itself. Nothing of yours stays here once you sign
          out.
        </p>
      ) : (
        <p>
          What you write is kept on this device until the server has it. But to open a page, this
          browser needs the network: it keeps pages only of addresses that begin with{" "}
          <b className="figures">https</b>, and this one begins with <b className="figures">http</b>
          . Ask your instructor whether the school has such an address; whoever starts Edrix gets
          one with <b className="figures">--https</b>.
        </p>
      )}
    </section>
  );
}
