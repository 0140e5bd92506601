import {
  DataTypes,
  Model,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelAttributes,
  type ModelStatic,
  type Sequelize,
} from 'sequelize';

/** BIGINT comes back as text; all of ours are safe numbers. */
export const size = (name: string) => ({
  type: DataTypes.BIGINT,
  get(this: Model): number | null {
    const value: unknown = this.getDataValue(name as never);
    return value === null || value === undefined ? null : Number(value);
  },
});

export const created = { type: DataTypes.DATE, defaultValue: DataTypes.NOW };
export const id = { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true };

export class Row<T extends Model> extends Model<InferAttributes<T>, InferCreationAttributes<T>> {}

/** Ties a model to its table. */
export function init<M extends Model>(
  model: ModelStatic<M>,
  table: string,
  fields: Record<string, unknown>,
  sequelize: Sequelize,
): void {
  model.init(fields as ModelAttributes<M>, {
    sequelize,
    tableName: table,
    timestamps: false,
    underscored: true,
  });
}
