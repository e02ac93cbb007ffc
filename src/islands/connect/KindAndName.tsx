import { FIELD, TextField } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { Select } from "../components/Select.tsx";

interface Props {
  /** `called`: what one of this kind is called at first; left out, the name of the kind. */
  kinds: readonly { readonly id: string; readonly name: string; readonly called?: string }[];
  kind: string;
  name: string;
  onKind(id: string): void;
  onName(name: string): void;
}

/** What every dialog that adds something begins with. The name is that of the kind until somebody types another. */
export function KindAndName({ kinds, kind, name, onKind, onName }: Props) {
  const nameOf = (id: string) => {
    const kind = kinds.find((k) => k.id === id);
    return kind?.called ?? kind?.name ?? "";
  };
  return (
    <>
      <Field label="what it is">
        <Select
          label="What it is"
          value={kind}
          options={kinds.map((k) => ({ value: k.id, label: k.name }))}
          onChange={(next) => {
            if (name === nameOf(kind)) onName(nameOf(next));
            onKind(next);
          }}
          className={FIELD}
        />
      </Field>
      <Field label="name" hint="as people speak of it">
        <TextField label="Name" value={name} onChange={(e) => onName(e.target.value)} required />
      </Field>
    </>
  );
}
