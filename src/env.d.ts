/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    application: import("./server/application.ts").Application;
    access: import("./server/access/access.ts").Access;
    standIns: import("./server/standins.ts").StandIns;
    /** Who asks; null only where anyone may. */
    who: import("./server/access/who.ts").Who | null;
    /** The address that the request comes from. */
    address: string;
  }
}
