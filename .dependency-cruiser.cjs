/** The import rules of docs/architecture.md. Each rule's comment is what the test prints when it is broken. */
module.exports = {
  forbidden: [
    {
      name: "core-imports-only-core",
      comment: "The core is pure: it may import itself and the pure packages zod, immer and culori, nothing else.",
      severity: "error",
      from: { path: "^src/core/", pathNot: "\\.test\\.ts$" },
      to: { pathNot: "^(src/core/|profiles/|node_modules/(zod|immer|culori|@types/culori)/)" },
    },
    {
      name: "engine-imports-core",
      comment: "The engine imports itself, the core, the wire protocol of the live socket and Node's own modules.",
      severity: "error",
      from: { path: "^src/engine/", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/(server|islands|pages|standins|cli|components|layouts)/" },
    },
    {
      name: "standins-share-only-codecs",
      comment: "A stand-in shares nothing with the product but the codecs, so that it cannot share its faults.",
      severity: "error",
      from: { path: "^src/standins/", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/", pathNot: "^src/(standins|core/(midi|osc))/" },
    },
    {
      name: "islands-never-import-the-engine",
      comment: "Islands import types and pure helpers of the core and of the live protocol, never engine or server.",
      severity: "error",
      from: { path: "^src/islands/" },
      to: { path: "^src/(engine|server|standins|cli)/", pathNot: "^src/server/live/protocol\\.ts$" },
    },
    {
      name: "no-circles",
      comment: "A circle of imports means two rooms are one.",
      severity: "error",
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } },
    },
    {
      name: "no-tests-in-the-product",
      comment: "Product code never imports a test.",
      severity: "error",
      from: { pathNot: "\\.test\\.tsx?$" },
      to: { path: "\\.test\\.tsx?$" },
    },
  ],
  options: {
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    doNotFollow: { path: "node_modules" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "require", "node", "default", "types"],
    },
  },
};
