/**
 * Somebody from elsewhere, without a second computer: a proxy on loopback that says so of everybody who comes through it.
 * The server believes no proxy who somebody is, but that they are not of this computer.
 */
import { request as ask, createServer } from "node:http";
import { type AddressInfo, connect } from "node:net";

export interface Elsewhere {
  readonly url: string;
  close(): Promise<void>;
}

export async function fromElsewhere(port: number): Promise<Elsewhere> {
  const at = `127.0.0.1:${port}`;
  let own = "";
  const heads = (headers: NodeJS.Dict<string | string[]>) => ({
    ...headers,
    host: at,
    via: "1.1 elsewhere",
    // A page that came through here names this address; the server knows only its own.
    ...(headers.origin === `http://${own}` ? { origin: `http://${at}` } : {}),
  });
  const proxy = createServer((incoming, response) => {
    const { method, url, headers } = incoming;
    const out = ask({ host: "127.0.0.1", port, method, path: url, headers: heads(headers) }, (answer) => {
      response.writeHead(answer.statusCode!, answer.rawHeaders);
      answer.pipe(response);
    });
    out.on("error", () => response.destroy());
    incoming.pipe(out);
  });
  const sockets = new Set<import("node:stream").Duplex>();
  proxy.on("upgrade", (incoming, socket, head) => {
    const through = connect(port, "127.0.0.1");
    for (const end of [socket, through]) {
      sockets.add(end);
      end.on("error", () => {});
      end.on("close", () => {
        sockets.delete(end);
        socket.destroy();
        through.destroy();
      });
    }
    const lines = Object.entries(heads(incoming.headers)).map(([name, value]) => `${name}: ${value}`);
    through.write(`GET ${incoming.url} HTTP/1.1\r\n${lines.join("\r\n")}\r\n\r\n`);
    through.write(head);
    socket.pipe(through).pipe(socket);
  });
  await new Promise<void>((resolve) => proxy.listen(0, "127.0.0.1", resolve));
  own = `127.0.0.1:${(proxy.address() as AddressInfo).port}`;
  return {
    url: `http://${own}`,
    close: async () => {
      for (const socket of sockets) socket.destroy();
      proxy.closeAllConnections();
      await new Promise((resolve) => proxy.close(resolve));
    },
  };
}
