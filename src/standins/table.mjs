/**
 * The stand-ins, by the id of their desk in the demo show. What is built and started, the ports of the demo show and of
 * the browser tests, and the pictures all follow from this table; the README's list is held against it by a test. Plain
 * JavaScript, because tools read it too.
 */

/**
 * `folder`: where it stands in src/standins, and what its program is called. `port`: the desk's own; its answers come to
 * the next one. `webPort`: its page. `speaks`: what the README says of it. `picture`: its screenshot, and a text that is
 * on its page once that is drawn.
 */
export const STAND_INS = {
  lights: {
    name: "lighting desk",
    folder: "lighting-desk",
    speaks: "OSC",
    port: 9100,
    webPort: 4781,
    picture: { file: "standin", shows: "Sea wall" },
  },
  vision: {
    name: "vision desk",
    folder: "vision-desk",
    speaks: "lines",
    port: 9110,
    webPort: 4782,
    picture: { file: "vision", shows: "Quay camera" },
  },
  sound: {
    name: "sound desk",
    folder: "sound-desk",
    speaks: "OSC",
    port: 9120,
    webPort: 4783,
    picture: { file: "sound", shows: "Narrator" },
  },
  bell: {
    name: "instrument",
    folder: "instrument",
    speaks: "MIDI over UDP",
    port: 9130,
    webPort: 4784,
    picture: { file: "instrument", shows: "Ship bells" },
  },
};

/** The environment variables of a stand-in's ports. */
export function portVariables(id) {
  const prefix = `VELVET_${id.toUpperCase()}`;
  return { port: `${prefix}_PORT`, webPort: `${prefix}_WEB_PORT` };
}
