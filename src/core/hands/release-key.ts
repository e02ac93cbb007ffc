/** What is pressed, as one number: a control, and of one that stands for many messages, which of them. */

/** Messages a range can have, and one for a control by itself. */
const MESSAGES = 2049;

export function releaseKey(control: number, message: number): number {
  return control * MESSAGES + message;
}

export function controlOfRelease(key: number): number {
  return Math.floor(key / MESSAGES);
}

export function messageOfRelease(key: number): number {
  return key % MESSAGES;
}
