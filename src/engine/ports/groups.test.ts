import { expect, test } from "vitest";
import { Groups } from "./groups.ts";

/** A socket of a computer whose cards may be pulled out; 10.* take groups. */
function computer(...cards: string[]) {
  const calls: string[] = [];
  const socket = {
    addMembership: (group: string, card?: string) => {
      if (!card?.startsWith("10.")) throw Object.assign(new Error("x"), { code: "ENODEV" });
      calls.push(`join ${group} ${card}`);
    },
    dropMembership: (group: string, card?: string) => {
      if (!cards.includes(card!)) throw new Error("x");
      calls.push(`leave ${group} ${card}`);
    },
  };
  const groups = new Groups(socket, () => [...cards]);
  const said = () => calls.splice(0);
  return { groups, cards, said };
}

test("a group is joined on every card that takes it, and left on those that are still there", () => {
  const { groups, cards, said } = computer("10.0.0.1", "192.168.0.1", "10.0.0.2");
  groups.join("239.255.0.1");
  expect(said()).toEqual(["join 239.255.0.1 10.0.0.1", "join 239.255.0.1 10.0.0.2"]);
  cards.shift();
  groups.leave("239.255.0.1");
  groups.leave("239.255.0.1");
  expect(said()).toEqual(["leave 239.255.0.1 10.0.0.2"]);
});

test("a card that is plugged in later is joined too, and once; one that was pulled out is joined again", () => {
  const { groups, cards, said } = computer("10.0.0.1");
  groups.join("239.255.0.1");
  groups.renew();
  expect(said()).toEqual(["join 239.255.0.1 10.0.0.1"]);
  cards.push("10.0.0.2");
  groups.renew();
  groups.renew();
  expect(said()).toEqual(["join 239.255.0.1 10.0.0.2"]);
  cards.pop();
  groups.renew();
  cards.push("10.0.0.2");
  groups.renew();
  expect(said()).toEqual(["join 239.255.0.1 10.0.0.2"]);
});

test("where no card takes it, the system’s reason is told", () => {
  expect(() => computer("192.168.0.1").groups.join("239.255.0.1")).toThrow(expect.objectContaining({ code: "ENODEV" }));
  expect(() => computer().groups.join("239.255.0.1")).toThrow(expect.objectContaining({ code: "ENETUNREACH" }));
});
