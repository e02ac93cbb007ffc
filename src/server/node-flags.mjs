/**
 * How Node.js is to run the server and its engine: options of the command line, and so for both threads. What is set
 * after the start holds only for threads that start later. Plain JavaScript, because `tools/run.mjs` reads it too.
 *
 * - A quiet moment of a show is no reason to collect all garbage: that takes 10 to 20 ms, and the next press waits for
 *   it. Garbage is collected when there is some.
 * - Each datagram leaves about 650 bytes of garbage. The young generation starts with room for 12,000 of them (in MB; it
 *   would start with one): it is swept seldom, and what it keeps is as little as before.
 * - Each edit leaves tables of the show behind. A heap that starts small is marked anew every second while people edit,
 *   in steps of up to 16 ms each; with room for 128 MB it is marked once a minute, and few shows ever come so far.
 */
export const NODE_FLAGS = ["--no-memory-reducer", "--min-semi-space-size=8", "--initial-old-space-size=128"];

/**
 * To be set once the server is ready, because it would make the start slower: what runs thirty times a second would be
 * compiled well only after minutes, and a show begins before. A function is looked at after so many bytes of its code
 * have run (it would be 135,168).
 */
export const READY_FLAG = "--interrupt-budget=20000";
