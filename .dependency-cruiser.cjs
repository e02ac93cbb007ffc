/** The import rules of docs/architecture.md. Each rule's comment is what the test prints when it is broken. */

/** The rooms of the core, the lowest first: a room imports itself and rooms of the lines above its own. */
const CORE = [
  ["midi", "osc", "sets", "guard"],
  ["format"],
  ["stream", "dmx", "rtp-midi", "mdns", "shape", "gesture", "surface", "labels"],
  ["desk", "trace", "teach"],
  ["house"],
  ["edit", "held", "mapping", "live"],
  ["run-state"],
  ["to-desk"],
  ["hands"],
  ["from-desk"],
  ["translate"],
];

/** The rooms of the islands, the lowest first. */
const ISLANDS = [
  ["live"],
  ["components"],
  ["documents"],
  ["surface", "traffic", "profiles", "show", "shows", "labels", "access"],
  ["map", "connect", "run"],
  ["app"],
];

/** One rule for each room: what it may not import, though it stands under the same roof. */
function directions(roof, layers) {
  return layers.flatMap((rooms, i) =>
    rooms.map((room) => ({
      name: `${roof.split("/").pop()}-one-direction-${room}`,
      comment: `Imports go one way: ${room} may import what stands below it in .dependency-cruiser.cjs, nothing else.`,
      severity: "error",
      from: { path: `^${roof}/${room}/`, pathNot: "\\.test\\.tsx?$" },
      to: {
        path: `^${roof}/`,
        pathNot: `^${roof}/(${[room, ...layers.slice(0, i).flat()].join("|")})/`,
      },
    })),
  );
}

module.exports = {
  forbidden: [
    {
      name: "core-imports-only-core",
      comment: "The core is pure: it may import itself and the pure packages zod, immer and culori, nothing else.",
      severity: "error",
      from: { path: "^src/core/", pathNot: "\\.test\\.ts$" },
      to: { pathNot: "^(src/core/|profiles/|node_modules/(zod|immer|culori|@types/culori)/)" },
    },
    ...directions("src/core", CORE),
    ...directions("src/islands", ISLANDS),
    {
      name: "a-new-room-has-its-layer",
      comment: "A new room of the core or the islands is given its line in .dependency-cruiser.cjs.",
      severity: "error",
      from: {},
      to: { path: `^src/(core/(?!(${CORE.flat().join("|")})/)|islands/(?!(${ISLANDS.flat().join("|")})/))[^/]+/` },
    },
    {
      name: "words-import-only-core",
      comment: "Words make sentences of codes and facts: they know the core and nothing else.",
      severity: "error",
      from: { path: "^src/words/", pathNot: "\\.test\\.ts$" },
      to: { pathNot: "^src/(words|core)/" },
    },
    {
      name: "no-words-below",
      comment: "The core and the engine tell codes and facts; sentences are made where a person reads them.",
      severity: "error",
      from: { path: "^src/(core|engine)/", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/words/" },
    },
    {
      name: "engine-imports-core",
      comment: "The engine imports itself, the core and Node's own modules.",
      severity: "error",
      from: { path: "^src/engine/", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/(server|islands|pages|standins|cli|layouts)/" },
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
      comment: "Islands import the core and the words, never engine or server.",
      severity: "error",
      from: { path: "^src/islands/", pathNot: "\\.test\\.tsx?$" },
      to: { path: "^src/(engine|server|standins|cli)/" },
    },
    {
      name: "no-circles",
      comment: "A circle of imports, types included, means two files are one.",
      severity: "error",
      from: {},
      to: { circular: true },
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
