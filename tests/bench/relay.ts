/** A bare UDP relay: what arrives on one port leaves to another, untouched. The floor of what Node.js can do. */
import { createSocket } from "node:dgram";

const [listenPort, targetPort] = process.argv.slice(2).map(Number);
const out = createSocket("udp4");
const socket = createSocket({ type: "udp4", recvBufferSize: 4 * 1024 * 1024 });
socket.on("message", (bytes) => out.send(bytes));
out.connect(targetPort!, "127.0.0.1", () => {
  socket.bind(listenPort!, "127.0.0.1", () => process.send?.({ kind: "ready" }));
});
process.once("disconnect", () => process.exit(0));
