/** Circles between folders, types included. Tests are left out: they may look at their room from anywhere. */
const { options } = require("./.dependency-cruiser.cjs");

module.exports = {
  forbidden: [
    {
      name: "no-circles-of-rooms",
      comment: "A circle of folders means two rooms are one.",
      severity: "error",
      scope: "folder",
      from: { path: "^src/" },
      to: { circular: true },
    },
  ],
  options: { ...options, exclude: { path: "\\.test\\.tsx?$" } },
};
