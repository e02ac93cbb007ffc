/** docs/formats/midi.md: what each field of a MIDI message takes, from the tables that check it (core/desk/midi-fields.ts). */
import { type FieldRule, midiFields } from "../core/desk/midi-fields.ts";
import { MIDI_TEMPLATES, type MidiTemplate } from "../core/format/desk-profile.ts";
import { MACHINE_COMMANDS } from "../core/midi/machine-control.ts";
import { MESSAGE_PARTS } from "../core/midi/message-parts.ts";
import { SHOW_COMMANDS, SHOW_FORMATS } from "../core/midi/show-control.ts";
import { PARTS_OF } from "../core/surface/parts-of.ts";
import { ENGLISH } from "./english.ts";

/** What the standards call a message, and where it stands in them. */
const STANDARD: Record<MidiTemplate["midi"], string> = {
  "note-on": "Note On",
  "note-off": "Note Off",
  controller: "Control Change",
  "controller-14": "Control Change, MSB and LSB (controllers 0 to 31 and 32 to 63)",
  nrpn: "Non-Registered Parameter Number, Data Entry MSB and LSB",
  rpn: "Registered Parameter Number, Data Entry MSB and LSB",
  program: "Program Change, with `bank` after Bank Select MSB and LSB",
  bend: "Pitch Bend Change",
  "poly-pressure": "Polyphonic Key Pressure",
  "channel-pressure": "Channel Pressure",
  sysex: "System Exclusive",
  "show-control": "MIDI Show Control (RP-002)",
  "machine-control": "MIDI Machine Control (RP-013)",
  "full-frame": "MIDI Time Code, Full Message (RP-004)",
  "quarter-frames": "MIDI Time Code, eight Quarter Frame messages",
  "song-position": "Song Position Pointer",
  "song-select": "Song Select",
  start: "Start",
  continue: "Continue",
  stop: "Stop",
  clock: "Timing Clock",
  "tune-request": "Tune Request",
  reset: "System Reset",
};

function takes(rule: FieldRule): string {
  switch (rule.is) {
    case "number":
      return `${rule.from} to ${rule.to}`;
    case "cue":
      return "digits and points";
    case "bytes":
      return "hexadecimal pairs from F0 to F7";
    case "word":
      return rule.words.length > 6 ? "a word of the lists below" : rule.words.join(", ");
    case "yes-no":
      return "true or false";
    default:
      return rule satisfies never;
  }
}

function fieldsOf(t: MidiTemplate): string {
  const fields = Object.entries(midiFields(t)).map(
    ([name, rule]) => `\`${name}\`${rule.needed ? "" : " (may be left out)"} ${takes(rule)}`,
  );
  return fields.join("; ") || "none";
}

const inHex = (n: number) => n.toString(16).toUpperCase().padStart(2, "0");

export function midiPage(): string {
  const messages = MIDI_TEMPLATES.map((midi) => {
    const command = midi === "machine-control" ? "play" : undefined;
    const example = (command === undefined ? { midi } : { midi, command }) as MidiTemplate;
    return `| \`${midi}\` | ${STANDARD[midi]} | ${fieldsOf(example)} |`;
  });
  const commands = Object.entries(SHOW_COMMANDS).map(([command, code]) => {
    const t = { midi: "show-control", command } as MidiTemplate;
    const own = Object.entries(midiFields(t)).filter(([name]) => !["device", "format", "command"].includes(name));
    const fields = own.map(([name, rule]) => `\`${name}\`${rule.needed ? "" : " (may be left out)"}`);
    return `| \`${command}\` | ${inHex(code)} | ${fields.join(", ") || "nothing"} |`;
  });
  const parts = Object.entries(PARTS_OF).map(
    ([kind, has]) => `| \`${kind}\` | ${has.map((p) => `\`${p}\``).join(", ") || "none"} |`,
  );
  return `# MIDI in documents

Made from the code by \`npm run formats\`.

## Messages of a desk profile

Every field that takes a number takes a name in braces too: of one of the function's parameters, or \`{value}\`, in as many
fields as wanted. A number, and a parameter or value whose range goes beyond what the field takes, is refused with its
place. In SysEx \`{name}\` is one byte and \`{name:14}\` two, the upper first. A cue number is digits and points with names
in them: \`12.5\`, \`{cue}\`, \`{cue}.{after}\`; without a cue there is no list, without a list no path. Of time code the
\`value\` is in seconds since midnight, or \`{clock}\`, the time of day. With \`close\` a parameter number is followed by the null
function, so that nobody else's data entry changes the parameter.

| \`midi\` | in the standard | fields |
|---|---|---|
${messages.join("\n")}

The fields of \`machine-control\` are those of its command: \`locate\` has a \`point\` 0 to 7, or \`rate\`, \`hours\`, \`minutes\`,
\`seconds\` and \`frames\`; every other has none. Commands: ${Object.entries(MACHINE_COMMANDS)
    .map(([name, code]) => `\`${name}\` (${inHex(code)})`)
    .join(", ")}.

Commands of \`show-control\`, and what each carries:

| \`command\` | number | carries |
|---|---|---|
${commands.join("\n")}

Its \`format\`: ${Object.entries(SHOW_FORMATS)
    .map(([name, code]) => `\`${name}\` (${inHex(code)})`)
    .join(", ")}.

## Numbers of a message, for bindings

\`{"from":"message","part":"number","offset":0}\` takes a number of the very message. Which parts there are depends on what
the control sends; a part that a message has not sends nothing, and the list says so.

| \`sends\` | parts |
|---|---|
${parts.join("\n")}

${MESSAGE_PARTS.map((p) => `\`${p}\` is the ${ENGLISH.messageParts[p]}`).join("; ")}.
`;
}
