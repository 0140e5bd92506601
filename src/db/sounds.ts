import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { created, id, init, Row } from './columns';

export class BoardRow extends Row<BoardRow> {
  declare id: CreationOptional<number>;
  declare sort: 'strip' | 'pad';
  declare title: string;
  declare content: unknown;
  declare version: CreationOptional<number>;
  declare createdAt: CreationOptional<Date>;
}

export class WayChoiceRow extends Row<WayChoiceRow> {
  declare id: CreationOptional<number>;
  declare gameId: number;
  declare scope: 'path' | 'script';
  declare name: string;
  declare way: number;
}

const { TEXT, INTEGER, JSONB } = DataTypes;

export function initSounds(sequelize: Sequelize): void {
  init(
    BoardRow,
    'boards',
    {
      id,
      sort: TEXT,
      title: TEXT,
      content: JSONB,
      version: { type: INTEGER, defaultValue: 1 },
      createdAt: created,
    },
    sequelize,
  );
  init(
    WayChoiceRow,
    'way_choices',
    { id, gameId: INTEGER, scope: TEXT, name: TEXT, way: INTEGER },
    sequelize,
  );
}
