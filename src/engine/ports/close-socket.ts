import type { Socket } from "node:dgram";

/** Closes a UDP socket, also one that never opened; resolves once its port is free. */
export function closeSocket(socket: Socket | null): Promise<void> {
  if (!socket) return Promise.resolve();
  return new Promise((resolve) => {
    try {
      socket.close(() => resolve());
    } catch {
      resolve(); // it never opened
    }
  });
}
