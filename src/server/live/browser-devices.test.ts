import { describe, expect, test } from "vitest";
import type { Device, ServerMessage } from "../../core/live/protocol.ts";
import { AT_THIS_COMPUTER } from "../access/who.ts";
import { BrowserDevices } from "./browser-devices.ts";
import type { LiveClient } from "./hub.ts";

const device = (name: string, nth = 1, output = true): Device => ({ name, nth, input: true, output });

function browser(number: number, devices: Device[]): LiveClient & { told: ServerMessage[] } {
  const told: ServerMessage[] = [];
  return { number, who: AT_THIS_COMPUTER, devices, shows: "edited", told, send: (message) => told.push(message) };
}

describe("devices of several browsers", () => {
  test("one that two have is reached through the first, and through the next when that one goes", () => {
    const [a, b] = [browser(1, [device("Grid")]), browser(2, [device("Grid"), device("Keys", 1, false)])];
    let clients = [a, b];
    const devices = new BrowserDevices(() => clients);
    expect(devices.ownerOf("Grid", 1)).toBe(a);
    expect(devices.ownerOf("Keys", 1)).toBe(b);
    clients = [b];
    expect(devices.ownerOf("Grid", 1)).toBe(b);
    clients = [];
    expect(devices.ownerOf("Grid", 1)).toBeNull();
  });

  test("ways are those that its owner has; the second of a name is another device", () => {
    const devices = new BrowserDevices(() => [browser(1, [device("Keys", 1, false)]), browser(2, [device("Keys", 2)])]);
    expect([devices.has("Keys", 1, "input"), devices.has("Keys", 1, "output")]).toEqual([true, false]);
    expect([devices.has("Keys", 2, "output"), devices.has("Keys", 3, "input")]).toEqual([true, false]);
  });

  test("every browser is told each device once, and which are reached through it", () => {
    const [a, b] = [browser(1, [device("Grid")]), browser(2, [device("Grid"), device("Keys")])];
    new BrowserDevices(() => [a, b]).tell();
    expect(a.told).toEqual([
      {
        kind: "browser-devices",
        devices: [
          { ...device("Grid"), here: true },
          { ...device("Keys"), here: false },
        ],
      },
    ]);
    expect(b.told).toEqual([
      {
        kind: "browser-devices",
        devices: [
          { ...device("Grid"), here: false },
          { ...device("Keys"), here: true },
        ],
      },
    ]);
  });
});
