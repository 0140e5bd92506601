import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';

import { created, id, init, Row, size } from './columns';
import { database } from './database';
import { initDesk } from './desk';
import { initReading } from './reading';
import { initSounds } from './sounds';

export class GameRow extends Row<GameRow> {
  declare id: CreationOptional<number>;
  declare title: string;
  declare folder: string;
  declare notes: CreationOptional<string>;
  declare standIn: string | null;
  declare scannedAt: CreationOptional<Date | null>;
  declare findings: CreationOptional<object>;
  declare settings: CreationOptional<object>;
  /** What its makers say about changing it, as the user noted it. */
  declare terms: CreationOptional<string>;
  /** SHA-256 sums of its originals, as a text. */
  declare listing: CreationOptional<string>;
  /** Folder in which the game looks for loose files before its archives; empty where it does not. */
  declare looseFolder: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

export class KeyRow extends Row<KeyRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare label: string;
  declare bytes: Buffer;
  /** Where it came from: pasted, or a program with a place. */
  declare origin: CreationOptional<string>;
  /** Archives it is tried on, as a pattern for their paths; empty for all. */
  declare tiedTo: CreationOptional<string>;
  /** Version of the game or its engine that it is for; empty for all. */
  declare version: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

export type NameListOrigin = 'loaded' | 'learnt' | 'guessed';

export class NameListRow extends Row<NameListRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare title: string;
  declare names: string;
  declare origin: CreationOptional<NameListOrigin>;
  /** Whether other games use it too. */
  declare shared: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

/** A file of the folder, an entry of another archive, or the files that are in none. */
export type ArchiveSort = 'file' | 'nested' | 'loose';
export type ArchiveState = 'open' | 'locked' | 'broken' | 'gone';

export class ArchiveRow extends Row<ArchiveRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare path: string;
  declare size: number;
  declare modifiedMs: number;
  declare rank: number;
  declare script: string | null;
  declare state: ArchiveState;
  declare reason: string;
  declare nextStep: string;
  declare keyId: number | null;
  declare keyed: boolean;
  declare entryCount: number;
  declare namedCount: number;
  declare fieldsHeld: number;
  declare sort: CreationOptional<ArchiveSort>;
  /** The archive that this one is an entry of, and its number there. */
  declare parentId: CreationOptional<number | null>;
  declare parentEntry: CreationOptional<number | null>;
  /** The format script that the user chose in place of the one that recognises the file. */
  declare chosenScript: CreationOptional<string | null>;
  declare facts: CreationOptional<object>;
}

export class MarkRow extends Row<MarkRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare path: string;
  declare tags: CreationOptional<string[]>;
  declare note: CreationOptional<string>;
  declare alias: CreationOptional<string>;
}

export class KindChoiceRow extends Row<KindChoiceRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare scope: 'path' | 'ending';
  /** A path, or an ending in lower case without its dot. */
  declare name: string;
  declare kind: string;
}

export class IdTableRow extends Row<IdTableRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare title: string;
  declare origin: string;
  /** Pairs of a code and its readable name. */
  declare codes: unknown;
  /** What else the table says of its codes; null where there is no more. */
  declare more: unknown;
  declare createdAt: CreationOptional<Date>;
}

export class SavedSearchRow extends Row<SavedSearchRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare title: string;
  declare address: string;
  declare createdAt: CreationOptional<Date>;
}

export class PickListRow extends Row<PickListRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare title: string;
  /** Paths, a line each. */
  declare paths: string;
  declare createdAt: CreationOptional<Date>;
}

export class RecipeRow extends Row<RecipeRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare title: string;
  declare recipe: unknown;
  declare createdAt: CreationOptional<Date>;
}

export class ModRow extends Row<ModRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare title: string;
  declare policy: CreationOptional<string>;
  declare workFolder: CreationOptional<string | null>;
  /** Where it stands among the mods of its game; of two that change the same the later one has its way. */
  declare place: CreationOptional<number>;
  /** Whether it is built along with the others. */
  declare together: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

/** Something done to a mod that can be undone: what the changes were before and after it. */
export class StepRow extends Row<StepRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare what: string;
  declare states: unknown;
  declare undone: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

export class ChangeRow extends Row<ChangeRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare archivePath: string;
  /** For an entry that is added, a number below 0 that follows from its path. */
  declare entryIndex: number;
  /** `replace`, `add` or `remove`. */
  declare action: CreationOptional<string>;
  /** Number of the entry that an added one is stored like. */
  declare likeIndex: CreationOptional<number | null>;
  declare path: string;
  declare kind: string;
  declare givenName: string;
  declare givenBlob: string;
  declare givenSize: number;
  declare preparedBlob: string | null;
  declare preparedSize: number | null;
  declare originalSize: number;
  declare mends: unknown;
  declare findings: unknown;
  declare fit: string;
  declare note: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

export class BuildRow extends Row<BuildRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare holds: boolean;
  declare changesDigest: string;
  declare report: unknown;
  /** What is in it, as `{ id, title }`, from first to last. */
  declare mods: unknown;
  declare way: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

export class InstallationRow extends Row<InstallationRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare buildId: number | null;
  declare title: string;
  declare state: string;
  declare files: unknown;
  /** What is in it, as `{ id, title }`, from first to last. */
  declare mods: unknown;
  declare createdAt: CreationOptional<Date>;
  /** The operation on the folder that made it. */
  declare operation: CreationOptional<string | null>;
  declare endedAt: CreationOptional<Date | null>;
}

export class TrialRow extends Row<TrialRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare standIn: string;
  declare loaded: boolean;
  declare report: unknown;
  /** What was installed then; empty for the originals. */
  declare installed: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

export class JobRow extends Row<JobRow> {
  declare id: string;
  declare gameId: number | null;
  declare kind: string;
  declare title: string;
  declare state: string;
  declare input: unknown;
  declare progress: CreationOptional<unknown>;
  declare result: CreationOptional<unknown>;
  declare error: CreationOptional<string | null>;
  declare cancelAsked: CreationOptional<boolean>;
  /** Whether what is asked to stop is to go on later. */
  declare pauseAsked: CreationOptional<boolean>;
  /** In the order in which they were asked for. */
  declare number: CreationOptional<number>;
  /** How often a worker ended while it led it. */
  declare attempts: CreationOptional<number>;
  /** The worker that leads it while it runs. */
  declare workerId: CreationOptional<string | null>;
  declare createdAt: CreationOptional<Date>;
  declare endedAt: CreationOptional<Date | null>;
}

const { TEXT, INTEGER, BOOLEAN, JSONB, DATE, BLOB, UUID, ARRAY } = DataTypes;
const game = { gameId: INTEGER };

let ready: Sequelize | undefined;

/** Ties the models to this process's connection; cheap to call again. */
export function models(): Sequelize {
  const sequelize = database();
  if (ready === sequelize) return sequelize;
  init(
    GameRow,
    'games',
    {
      id,
      title: TEXT,
      folder: TEXT,
      notes: { type: TEXT, defaultValue: '' },
      standIn: TEXT,
      scannedAt: DATE,
      findings: { type: JSONB, defaultValue: {} },
      settings: { type: JSONB, defaultValue: {} },
      terms: { type: TEXT, defaultValue: '' },
      listing: { type: TEXT, defaultValue: '' },
      looseFolder: { type: TEXT, defaultValue: '' },
      createdAt: created,
    },
    sequelize,
  );
  init(
    KeyRow,
    'keys',
    {
      id,
      ...game,
      label: TEXT,
      bytes: BLOB,
      origin: { type: TEXT, defaultValue: 'pasted' },
      tiedTo: { type: TEXT, defaultValue: '' },
      version: { type: TEXT, defaultValue: '' },
      createdAt: created,
    },
    sequelize,
  );
  init(
    NameListRow,
    'name_lists',
    {
      id,
      ...game,
      title: TEXT,
      names: TEXT,
      origin: { type: TEXT, defaultValue: 'loaded' },
      shared: { type: BOOLEAN, defaultValue: false },
      createdAt: created,
    },
    sequelize,
  );
  init(
    MarkRow,
    'marks',
    {
      id,
      ...game,
      path: TEXT,
      tags: { type: ARRAY(TEXT), defaultValue: [] },
      note: { type: TEXT, defaultValue: '' },
      alias: { type: TEXT, defaultValue: '' },
    },
    sequelize,
  );
  initSounds(sequelize);
  initDesk(sequelize);
  initReading(sequelize);
  init(KindChoiceRow, 'kind_choices', { id, ...game, scope: TEXT, name: TEXT, kind: TEXT }, sequelize);
  init(
    IdTableRow,
    'id_tables',
    { id, ...game, title: TEXT, origin: TEXT, codes: JSONB, more: JSONB, createdAt: created },
    sequelize,
  );
  init(
    SavedSearchRow,
    'saved_searches',
    { id, ...game, title: TEXT, address: TEXT, createdAt: created },
    sequelize,
  );
  init(PickListRow, 'pick_lists', { id, ...game, title: TEXT, paths: TEXT, createdAt: created }, sequelize);
  init(RecipeRow, 'recipes', { id, ...game, title: TEXT, recipe: JSONB, createdAt: created }, sequelize);
  init(
    ArchiveRow,
    'archives',
    {
      id,
      ...game,
      path: TEXT,
      size: size('size'),
      modifiedMs: size('modifiedMs'),
      rank: INTEGER,
      script: TEXT,
      state: TEXT,
      reason: TEXT,
      nextStep: TEXT,
      keyId: INTEGER,
      keyed: BOOLEAN,
      entryCount: INTEGER,
      namedCount: INTEGER,
      fieldsHeld: INTEGER,
      sort: { type: TEXT, defaultValue: 'file' },
      parentId: INTEGER,
      parentEntry: INTEGER,
      chosenScript: TEXT,
      facts: { type: JSONB, defaultValue: {} },
    },
    sequelize,
  );
  init(
    ModRow,
    'mods',
    {
      id,
      ...game,
      title: TEXT,
      policy: { type: TEXT, defaultValue: 'warn' },
      workFolder: TEXT,
      place: { type: INTEGER, defaultValue: 0 },
      together: { type: BOOLEAN, defaultValue: false },
      createdAt: created,
    },
    sequelize,
  );
  init(
    StepRow,
    'steps',
    {
      id,
      modId: INTEGER,
      what: TEXT,
      states: JSONB,
      undone: { type: BOOLEAN, defaultValue: false },
      createdAt: created,
    },
    sequelize,
  );
  init(
    ChangeRow,
    'changes',
    {
      id,
      modId: INTEGER,
      archivePath: TEXT,
      entryIndex: INTEGER,
      action: { type: TEXT, defaultValue: 'replace' },
      likeIndex: INTEGER,
      path: TEXT,
      kind: TEXT,
      givenName: TEXT,
      givenBlob: TEXT,
      givenSize: size('givenSize'),
      preparedBlob: TEXT,
      preparedSize: size('preparedSize'),
      originalSize: size('originalSize'),
      mends: JSONB,
      findings: JSONB,
      fit: TEXT,
      note: { type: TEXT, defaultValue: '' },
      createdAt: created,
    },
    sequelize,
  );
  init(
    BuildRow,
    'builds',
    {
      id,
      modId: INTEGER,
      holds: BOOLEAN,
      changesDigest: TEXT,
      report: JSONB,
      mods: { type: JSONB, defaultValue: [] },
      way: { type: TEXT, defaultValue: 'shifted' },
      createdAt: created,
    },
    sequelize,
  );
  init(
    InstallationRow,
    'installations',
    {
      id,
      ...game,
      buildId: INTEGER,
      title: TEXT,
      state: TEXT,
      files: JSONB,
      mods: { type: JSONB, defaultValue: [] },
      operation: TEXT,
      createdAt: created,
      endedAt: DATE,
    },
    sequelize,
  );
  init(
    TrialRow,
    'trials',
    {
      id,
      ...game,
      standIn: TEXT,
      loaded: BOOLEAN,
      report: JSONB,
      installed: { type: TEXT, defaultValue: '' },
      createdAt: created,
    },
    sequelize,
  );
  init(
    JobRow,
    'jobs',
    {
      id: { type: UUID, primaryKey: true },
      ...game,
      kind: TEXT,
      title: TEXT,
      state: TEXT,
      input: JSONB,
      progress: { type: JSONB, defaultValue: {} },
      result: JSONB,
      error: TEXT,
      cancelAsked: { type: BOOLEAN, defaultValue: false },
      pauseAsked: { type: BOOLEAN, defaultValue: false },
      number: size('number'),
      attempts: { type: INTEGER, defaultValue: 0 },
      workerId: UUID,
      createdAt: created,
      endedAt: DATE,
    },
    sequelize,
  );
  ready = sequelize;
  return sequelize;
}
