/**
 * Numbered steps from an empty database to the present one. A step that was ever released is never changed:
 * the database of an older version is brought up to date by the steps it lacks.
 */
import type { QueryInterface, Transaction } from "sequelize";
import { DataTypes } from "sequelize";

export interface Migration {
  number: number;
  name: string;
  up(query: QueryInterface, transaction: Transaction): Promise<void>;
}

export const MIGRATIONS: readonly Migration[] = [
  {
    number: 1,
    name: "shows and their revisions",
    async up(query, transaction) {
      await query.createTable(
        "shows",
        {
          id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
          document: { type: DataTypes.TEXT, allowNull: false },
          /** The revision the document stands at; undo moves it back, redo forward. */
          revision: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
          saved_at_ms: { type: DataTypes.INTEGER, allowNull: false },
        },
        { transaction },
      );
      await query.createTable(
        "revisions",
        {
          id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
          show_id: {
            type: DataTypes.INTEGER,
            allowNull: false,
            references: { model: "shows", key: "id" },
            onDelete: "CASCADE",
          },
          number: { type: DataTypes.INTEGER, allowNull: false },
          label: { type: DataTypes.TEXT, allowNull: false },
          edit: { type: DataTypes.TEXT, allowNull: false },
          patches: { type: DataTypes.TEXT, allowNull: false },
          inverse: { type: DataTypes.TEXT, allowNull: false },
          made_at_ms: { type: DataTypes.INTEGER, allowNull: false },
        },
        { transaction },
      );
      await query.addIndex("revisions", ["show_id", "number"], { transaction });
    },
  },
  {
    number: 2,
    name: "revisions that were undone and then left stay readable",
    async up(query, transaction) {
      await query.addColumn(
        "revisions",
        "left",
        { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
        { transaction },
      );
    },
  },
  {
    number: 3,
    name: "passcodes, and who has been let in",
    async up(query, transaction) {
      const text = () => ({ type: DataTypes.TEXT, allowNull: false });
      const time = () => ({ type: DataTypes.INTEGER, allowNull: false });
      await query.createTable(
        "passcodes",
        { role: { ...text(), primaryKey: true }, salt: text(), hash: text() },
        { transaction },
      );
      await query.createTable(
        "sessions",
        {
          id: { ...text(), primaryKey: true },
          token_hash: text(),
          role: text(),
          device: text(),
          address: text(),
          made_at_ms: time(),
          seen_at_ms: time(),
        },
        { transaction },
      );
    },
  },
  {
    number: 4,
    name: "several shows, of which one is open, and versions that are kept",
    async up(query, transaction) {
      const time = { type: DataTypes.INTEGER, allowNull: false };
      await query.addColumn("shows", "opened_at_ms", { ...time, defaultValue: 0 }, { transaction });
      await query.addColumn("shows", "deleted_at_ms", { type: DataTypes.INTEGER }, { transaction });
      await query.createTable(
        "versions",
        {
          id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
          show_id: {
            type: DataTypes.INTEGER,
            allowNull: false,
            references: { model: "shows", key: "id" },
            onDelete: "CASCADE",
          },
          /** The edit that led to it; 0 = none, it is the show as it began. */
          revision_id: { type: DataTypes.INTEGER, allowNull: false },
          /** What somebody called it; "" = the program kept it by itself. */
          name: { type: DataTypes.TEXT, allowNull: false },
          label: { type: DataTypes.TEXT, allowNull: false },
          /** The whole document, compressed. */
          document: { type: DataTypes.BLOB, allowNull: false },
          made_at_ms: { ...time },
        },
        { transaction },
      );
      await query.addIndex("versions", ["show_id", "made_at_ms"], { transaction });
    },
  },
];
