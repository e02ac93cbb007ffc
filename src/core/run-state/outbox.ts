/** Where translated bytes leave. Views are valid only during the call: a port that keeps them must copy. */
export interface Outbox {
  toDesk(desk: number, bytes: Uint8Array, offset: number, length: number): void;
  toSurface(surface: number, bytes: Uint8Array, offset: number, length: number): void;
}
