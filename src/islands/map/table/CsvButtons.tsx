/** The table as a file, out and in. */
import { FileDown, FileUp } from "lucide-react";
import { useRef, useState } from "react";
import { IconButton } from "../../components/controls.tsx";
import { part } from "../../components/part.tsx";
import { usePageStore } from "../../live/store.ts";
import { toast } from "../../live/toast.ts";

const CsvDialog = part(async () => (await import("./CsvDialog.tsx")).CsvDialog);

export function CsvButtons() {
  const store = usePageStore();
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const save = async () => {
    const { csvText } = await import("./csv-file.ts");
    const { show } = store.getState().live;
    const address = URL.createObjectURL(new Blob([csvText(show)], { type: "text/csv;charset=utf-8" }));
    const link = document.createElement("a");
    link.href = address;
    link.download = `${show.name.toLowerCase().replaceAll(/[^\p{L}\p{N}]+/gu, "-") || "show"}.mappings.csv`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(address), 10_000);
  };
  const read = async (chosen: File) => {
    const { MOST_CSV_BYTES } = await import("./csv-file.ts");
    if (chosen.size > MOST_CSV_BYTES) {
      const megabytes = Math.round(MOST_CSV_BYTES / 1024 / 1024);
      toast.error("Not read in", {
        description: `${chosen.name} is longer than ${megabytes} MB, which is more than a show holds.`,
      });
      return;
    }
    setFile({ name: chosen.name, text: await chosen.text() });
  };
  return (
    <>
      <IconButton label="Write the table as CSV" onClick={() => void save()}>
        <FileDown size={15} aria-hidden />
      </IconButton>
      <IconButton label="Read a CSV in …" onClick={() => input.current?.click()}>
        <FileUp size={15} aria-hidden />
      </IconButton>
      <input
        ref={input}
        type="file"
        accept=".csv,.tsv,.txt,text/csv"
        aria-label="CSV of mappings"
        className="hidden"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = "";
          if (chosen) void read(chosen);
        }}
      />
      {file ? <CsvDialog name={file.name} text={file.text} onClose={() => setFile(null)} /> : null}
    </>
  );
}
