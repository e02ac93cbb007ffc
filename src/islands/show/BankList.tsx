import type { Bank } from "../../core/format/show.ts";
import { NumberField } from "../components/NumberField.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { PartRow, PartSection } from "./PartRow.tsx";

export function BankList() {
  const banks = useLive((l) => l.show.banks) ?? [];
  const actions = useActions();
  return (
    <PartSection
      about="A window of strips on a desk: eight faders reach all its channels, eight at a time. Bind a number to “a strip of a bank”; the house moves the bank."
      add="Add a bank"
      onAdd={() =>
        void actions.edit({
          kind: "put-bank",
          item: { id: newId("b"), name: `Bank ${banks.length + 1}`, first: 1, last: 20, size: 8 },
        })
      }
    >
      {banks.map((bank, i) => (
        <BankRow key={bank.id} bank={bank} index={i} />
      ))}
    </PartSection>
  );
}

function BankRow({ bank, index }: { bank: Bank; index: number }) {
  const actions = useActions();
  const at = useLive((l) => l.context.facts.bankFirst(index));
  const put = (set: Partial<Bank>) => void actions.edit({ kind: "change-part", list: "banks", id: bank.id, set });
  return (
    <PartRow list="banks" id={bank.id} name={bank.name} onRename={(name) => put({ name })}>
      from
      <NumberField
        label="First"
        value={bank.first}
        min={0}
        max={65_535}
        onCommit={(v) => put({ first: Math.round(v) })}
      />
      to
      <NumberField label="Last" value={bank.last} min={0} max={65_535} onCommit={(v) => put({ last: Math.round(v) })} />
      ,
      <NumberField label="Strips" value={bank.size} min={1} max={128} onCommit={(v) => put({ size: Math.round(v) })} />
      at a time
      <span className="text-cool">
        now {at} to {at + bank.size - 1}
      </span>
    </PartRow>
  );
}
