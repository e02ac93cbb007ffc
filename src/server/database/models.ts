/** The tables as Sequelize models. */
import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type ModelStatic,
  type Sequelize,
} from "sequelize";

export interface ShowRow extends Model<InferAttributes<ShowRow>, InferCreationAttributes<ShowRow>> {
  id: CreationOptional<number>;
  document: string;
  revision: number;
  savedAtMs: number;
  /** The show that was opened last is the one that runs. */
  openedAtMs: CreationOptional<number>;
  /** null = it is among the shows; deleted ones can be recovered for a while. */
  deletedAtMs: CreationOptional<number | null>;
}

/** A whole document that is kept beside the history: because somebody gave it a name, or because its edits were thinned out. */
export interface VersionRow extends Model<InferAttributes<VersionRow>, InferCreationAttributes<VersionRow>> {
  id: CreationOptional<number>;
  showId: number;
  revisionId: number;
  name: string;
  label: string;
  document: Buffer;
  madeAtMs: number;
}

export interface RevisionRow extends Model<InferAttributes<RevisionRow>, InferCreationAttributes<RevisionRow>> {
  id: CreationOptional<number>;
  showId: number;
  number: number;
  label: string;
  edit: string;
  patches: string;
  inverse: string;
  madeAtMs: number;
  left: CreationOptional<boolean>;
}

export interface PasscodeRow extends Model<InferAttributes<PasscodeRow>, InferCreationAttributes<PasscodeRow>> {
  role: string;
  salt: string;
  hash: string;
}

export interface SessionRow extends Model<InferAttributes<SessionRow>, InferCreationAttributes<SessionRow>> {
  id: string;
  tokenHash: string;
  role: string;
  device: string;
  address: string;
  madeAtMs: number;
  seenAtMs: number;
}

export interface Models {
  shows: ModelStatic<ShowRow>;
  revisions: ModelStatic<RevisionRow>;
  versions: ModelStatic<VersionRow>;
}

export function defineModels(database: Sequelize): Models {
  const options = { timestamps: false, underscored: true };
  const shows = database.define<ShowRow>(
    "show",
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      document: { type: DataTypes.TEXT, allowNull: false },
      revision: { type: DataTypes.INTEGER, allowNull: false },
      savedAtMs: { type: DataTypes.INTEGER, allowNull: false },
      openedAtMs: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      deletedAtMs: { type: DataTypes.INTEGER, allowNull: true },
    },
    { ...options, tableName: "shows" },
  );
  const revisions = database.define<RevisionRow>(
    "revision",
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      showId: { type: DataTypes.INTEGER, allowNull: false },
      number: { type: DataTypes.INTEGER, allowNull: false },
      label: { type: DataTypes.TEXT, allowNull: false },
      edit: { type: DataTypes.TEXT, allowNull: false },
      patches: { type: DataTypes.TEXT, allowNull: false },
      inverse: { type: DataTypes.TEXT, allowNull: false },
      madeAtMs: { type: DataTypes.INTEGER, allowNull: false },
      left: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
    },
    { ...options, tableName: "revisions" },
  );
  const versions = database.define<VersionRow>(
    "version",
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      showId: { type: DataTypes.INTEGER, allowNull: false },
      revisionId: { type: DataTypes.INTEGER, allowNull: false },
      name: { type: DataTypes.TEXT, allowNull: false },
      label: { type: DataTypes.TEXT, allowNull: false },
      document: { type: DataTypes.BLOB, allowNull: false },
      madeAtMs: { type: DataTypes.INTEGER, allowNull: false },
    },
    { ...options, tableName: "versions" },
  );
  return { shows, revisions, versions };
}

export interface AccessModels {
  passcodes: ModelStatic<PasscodeRow>;
  sessions: ModelStatic<SessionRow>;
}

export function defineAccessModels(database: Sequelize): AccessModels {
  const options = { timestamps: false, underscored: true };
  // Sequelize writes into what it is given: each column needs one of its own.
  const text = () => ({ type: DataTypes.TEXT, allowNull: false });
  const time = () => ({ type: DataTypes.INTEGER, allowNull: false });
  const passcodes = database.define<PasscodeRow>(
    "passcode",
    { role: { ...text(), primaryKey: true }, salt: text(), hash: text() },
    { ...options, tableName: "passcodes" },
  );
  const sessions = database.define<SessionRow>(
    "session",
    {
      id: { ...text(), primaryKey: true },
      tokenHash: text(),
      role: text(),
      device: text(),
      address: text(),
      madeAtMs: time(),
      seenAtMs: time(),
    },
    { ...options, tableName: "sessions" },
  );
  return { passcodes, sessions };
}
