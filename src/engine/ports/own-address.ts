/** By which addresses other computers reach this one. */
import { BlockList } from "node:net";
import { networkInterfaces } from "node:os";

export interface OwnAddress {
  /** Four octets. */
  readonly address: readonly number[];
  /** Of the network card, six octets. */
  readonly hardware: readonly number[];
}

/** Of every card, IPv4, this computer's own (loopback) among them. */
export function ownAddresses(): string[] {
  return cardsOf(networkInterfaces()).map((card) => card.address);
}

/** The address of the card whose network has `peer` (IPv4) in it; where none has, that of the first card. */
export function addressTowards(peer: string, interfaces = networkInterfaces()): OwnAddress {
  const cards = cardsOf(interfaces);
  const near = cards.find(({ cidr }) => {
    const [network, bits] = cidr!.split("/");
    const own = new BlockList();
    own.addSubnet(network!, Number(bits), "ipv4");
    return own.check(peer, "ipv4");
  });
  const card = near ?? cards.find((c) => !c.internal) ?? cards[0];
  return {
    address: (card?.address ?? "127.0.0.1").split(".").map(Number),
    hardware: (card?.mac ?? "00:00:00:00:00:00").split(":").map((pair) => Number.parseInt(pair, 16)),
  };
}

function cardsOf(interfaces: ReturnType<typeof networkInterfaces>) {
  return Object.values(interfaces)
    .flatMap((list) => list ?? [])
    .filter((card) => card.family === "IPv4" && card.cidr !== null);
}
