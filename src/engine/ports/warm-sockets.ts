import { UdpPort } from "./udp.ts";

/** Nobody is asked and nothing is sent there. */
const SELF = { host: "127.0.0.1", port: 9 };

/**
 * Opens a port to this computer itself and closes it again: the first socket of a thread takes 30 ms, because what it is
 * made with has to be read, and a spare has the time for it.
 */
export function warmSockets(): void {
  const port = new UdpPort(
    { peer: SELF, listen: { host: "127.0.0.1", port: 0 } },
    {
      message: () => {},
      refused: () => {},
      state: ({ state }) => {
        if (state === "open") void port.close();
      },
    },
  );
  port.open();
}
