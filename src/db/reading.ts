import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { id, init, Row } from './columns';

/** What somebody said that a field of a table means; no table where it means nothing. */
export class ReadingLinkRow extends Row<ReadingLinkRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare fromTable: string;
  declare field: string;
  declare toTable: string;
  declare byField: string;
}

/** A vocabulary that somebody gave for a game; `about` is the table and field that it reads. */
export class ReadingWordsRow extends Row<ReadingWordsRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare about: string;
  declare text: string;
}

const { TEXT, INTEGER } = DataTypes;

export function initReading(sequelize: Sequelize): void {
  init(
    ReadingLinkRow,
    'reading_links',
    { id, gameId: INTEGER, fromTable: TEXT, field: TEXT, toTable: TEXT, byField: TEXT },
    sequelize,
  );
  init(ReadingWordsRow, 'reading_words', { id, gameId: INTEGER, about: TEXT, text: TEXT }, sequelize);
}
