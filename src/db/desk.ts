import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { created, id, init, Row } from './columns';

/** What was made of a line of a game in a language. */
export class DeskTextRow extends Row<DeskTextRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare tongue: string;
  declare place: string;
  declare key: string;
  declare nth: number;
  declare text: string;
  declare state: 'draft' | 'done' | 'reviewed';
  declare byWhom: string;
  declare changedAt: Date;
}

/** What one press did to lines: each as it was and as it became. */
export class DeskStepRow extends Row<DeskStepRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare tongue: string;
  declare what: string;
  declare byWhom: string;
  declare lines: unknown;
  declare undone: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

export class DeskTermRow extends Row<DeskTermRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare tongue: string;
  declare source: string;
  declare target: string;
}

export class DeskNoteRow extends Row<DeskNoteRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare place: string;
  declare key: string;
  declare nth: number;
  declare text: string;
  declare byWhom: string;
  declare createdAt: CreationOptional<Date>;
}

/** A text that a program keeps and that stands on the desk. */
export class DeskHeldRow extends Row<DeskHeldRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare archive: string;
  declare path: string;
  /** Comes as a text from the database, which keeps 64 bits. */
  declare byteOffset: number | string;
  declare encoding: 'utf-8' | 'utf-16le';
  declare room: number;
}

/** A language that a mod brings and the game has not, with the name that players read. */
export class DeskTongueRow extends Row<DeskTongueRow> {
  declare id: CreationOptional<number>;
  declare modId: number;
  declare tongue: string;
  declare name: string;
}

const { TEXT, INTEGER, BIGINT, JSONB, DATE, BOOLEAN } = DataTypes;
const of = { id, modId: INTEGER };
const line = { place: TEXT, key: TEXT, nth: INTEGER };

export function initDesk(sequelize: Sequelize): void {
  init(
    DeskTextRow,
    'desk_texts',
    { ...of, tongue: TEXT, ...line, text: TEXT, state: TEXT, byWhom: TEXT, changedAt: DATE },
    sequelize,
  );
  init(
    DeskStepRow,
    'desk_steps',
    {
      ...{ ...of, tongue: TEXT, what: TEXT, byWhom: TEXT, lines: JSONB },
      undone: { type: BOOLEAN, defaultValue: false },
      createdAt: created,
    },
    sequelize,
  );
  init(DeskTermRow, 'desk_terms', { ...of, tongue: TEXT, source: TEXT, target: TEXT }, sequelize);
  init(
    DeskNoteRow,
    'desk_notes',
    { ...of, ...line, text: TEXT, byWhom: TEXT, createdAt: created },
    sequelize,
  );
  init(
    DeskHeldRow,
    'desk_held',
    { ...of, archive: TEXT, path: TEXT, byteOffset: BIGINT, encoding: TEXT, room: INTEGER },
    sequelize,
  );
  init(DeskTongueRow, 'desk_tongues', { ...of, tongue: TEXT, name: TEXT }, sequelize);
}

/** Forgets what was made of lines. */
export async function dropDeskTexts(
  modId: number,
  tongue: string,
  lines: readonly { readonly place: string; readonly key: string; readonly nth: number }[],
): Promise<void> {
  await DeskTextRow.sequelize!.query(
    `DELETE FROM desk_texts d USING unnest($3::text[], $4::text[], $5::integer[]) AS g(place, key, nth)
     WHERE d.mod_id = $1 AND d.tongue = $2 AND d.place = g.place AND d.key = g.key AND d.nth = g.nth`,
    {
      bind: [
        ...[modId, tongue, lines.map(({ place }) => place)],
        ...[lines.map(({ key }) => key), lines.map(({ nth }) => nth)],
      ],
    },
  );
}

/** What is to be kept of a line. */
export interface DeskTextKept {
  readonly place: string;
  readonly key: string;
  readonly nth: number;
  readonly text: string;
  readonly state: string;
}

/** Keeps what was made of lines, over whatever was kept of them. */
export async function keepDeskTexts(
  modId: number,
  tongue: string,
  lines: readonly DeskTextKept[],
  by: string,
): Promise<void> {
  await DeskTextRow.sequelize!.query(
    `INSERT INTO desk_texts (mod_id, tongue, place, key, nth, text, state, by_whom, changed_at)
     SELECT $1, $2, place, key, nth, text, state, $3, now()
     FROM unnest($4::text[], $5::text[], $6::integer[], $7::text[], $8::text[]) AS l(place, key, nth, text, state)
     ON CONFLICT (mod_id, tongue, place, key, nth)
     DO UPDATE SET text = EXCLUDED.text, state = EXCLUDED.state, by_whom = EXCLUDED.by_whom, changed_at = EXCLUDED.changed_at`,
    {
      bind: [
        ...[modId, tongue, by, lines.map(({ place }) => place), lines.map(({ key }) => key)],
        ...[lines.map(({ nth }) => nth), lines.map(({ text }) => text), lines.map(({ state }) => state)],
      ],
    },
  );
}
