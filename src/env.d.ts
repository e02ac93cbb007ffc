/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    application: import("./server/application.ts").Application;
  }
}
