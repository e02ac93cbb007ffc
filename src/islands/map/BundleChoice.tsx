/** Which bundle mappings belong to: one of those that are there, a new one, or none. */
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import { Select } from "../components/Select.tsx";
import { newId } from "../documents/new-ids.ts";
import { useLive } from "../live/store.ts";

export const NO_BUNDLE = "-";
const NEW = "+";

interface Props {
  /** Its id; `NO_BUNDLE`; "" = they differ. */
  value: string;
  /** Null = none. `first`: what has to be done before, in the same edit. */
  onBundle(bundle: string | null, first: readonly OneEdit[]): void;
  label?: string;
  className?: string;
}

export function BundleChoice({ value, onBundle, label = "Bundle", className }: Props) {
  const bundles = useLive((l) => l.show.bundles) ?? [];
  const choose = (chosen: string) => {
    if (chosen !== NEW) {
      onBundle(chosen === NO_BUNDLE ? null : chosen, []);
      return;
    }
    const item = { id: newId("u"), name: `Bundle ${bundles.length + 1}`, on: true };
    onBundle(item.id, [{ kind: "put-bundle", item }]);
  };
  return (
    <Select
      label={label}
      value={value}
      placeholder="Bundle…"
      options={[
        { value: NO_BUNDLE, label: "in no bundle" },
        ...bundles.map((b) => ({ value: b.id, label: b.name, hint: b.on ? "" : "off" })),
        { value: NEW, label: "a new one" },
      ]}
      onChange={choose}
      {...(className ? { className } : {})}
    />
  );
}
