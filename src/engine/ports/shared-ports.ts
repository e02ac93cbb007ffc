/**
 * UDP ports that several of our sockets have: those of desks hear each its own peer, and one more hears whoever is nobody's.
 * The system gives a datagram to the socket that fits best: one that is connected to the sender, before one that is to nobody.
 *
 * Sockets that share a port must all be opened as sharing it, and then the system would let other programs share it too, and
 * take what is meant for us. So whether another program has it is found out first, by having it alone for a moment.
 */
import { createSocket } from "node:dgram";
import { closeSocket } from "./close-socket.ts";

type Done = (error: NodeJS.ErrnoException | null) => void;

interface Claim {
  users: number;
  /** While it is found out. */
  waiting: Done[] | null;
}

const claims = new Map<string, Claim>();

/** `done` is called at once where the port is ours already. What is answered gives it back, and is called once. */
export function claimPort(type: "udp4" | "udp6", port: number, host: string, done: Done): () => void {
  const key = `${type} ${port}`;
  const known = claims.get(key);
  const claim = known ?? { users: 0, waiting: [] };
  claim.users++;
  let isOver = false;
  if (claim.waiting) claim.waiting.push((error) => isOver || done(error));
  if (!known) {
    claims.set(key, claim);
    findOut(type, port, host, (error) => {
      const waiting = claim.waiting ?? [];
      claim.waiting = null;
      if (error || claim.users === 0) claims.delete(key);
      for (const tell of waiting) tell(error);
    });
  } else if (!claim.waiting) done(null);
  return () => {
    if (isOver) return;
    isOver = true;
    claim.users--;
    if (claim.users === 0 && !claim.waiting && claims.get(key) === claim) claims.delete(key);
  };
}

/** Whether no other program has the port: null, or why it cannot be had alone. */
export function findOut(type: "udp4" | "udp6", port: number, host: string, done: Done): void {
  const alone = createSocket(type);
  let isDone = false;
  const once: Done = (error) => {
    if (isDone) return;
    isDone = true;
    done(error);
  };
  alone.on("error", (error: NodeJS.ErrnoException) => {
    void closeSocket(alone);
    once(error);
  });
  try {
    alone.bind({ port, address: host, exclusive: true }, () => alone.close(() => once(null)));
  } catch (error) {
    once(error as NodeJS.ErrnoException);
  }
}
