import {
  DataTypes,
  type Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelStatic,
} from 'sequelize';
import type { Design } from '@/core/design/schema';
import { database } from './database';

export interface ProjectRow extends Model<
  InferAttributes<ProjectRow>,
  InferCreationAttributes<ProjectRow>
> {
  id: CreationOptional<string>;
  name: string;
  document: Design;
  /** Rises by one with each save; a save names the one that it was made from. */
  revision: CreationOptional<number>;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
  /** Set when deleted; removed for good thirty days later. */
  deletedAt: CreationOptional<Date | null>;
}

export interface MeasurementRow extends Model<
  InferAttributes<MeasurementRow>,
  InferCreationAttributes<MeasurementRow>
> {
  id: string;
  frequencyHz: number[];
  magnitude: number[];
  phaseDeg: number[] | null;
  createdAt: CreationOptional<Date>;
}

let defined: {
  projects: ModelStatic<ProjectRow>;
  measurements: ModelStatic<MeasurementRow>;
} | null = null;

/** Sequelize models over the tables that the migrations make. */
export function models() {
  defined ??= {
    projects: database().define<ProjectRow>(
      'project',
      {
        id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
        name: { type: DataTypes.TEXT, allowNull: false },
        document: { type: DataTypes.JSONB, allowNull: false },
        revision: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 1 },
        createdAt: DataTypes.DATE,
        updatedAt: DataTypes.DATE,
        deletedAt: DataTypes.DATE,
      },
      { tableName: 'projects', underscored: true },
    ),
    measurements: database().define<MeasurementRow>(
      'measurement',
      {
        id: { type: DataTypes.TEXT, primaryKey: true },
        frequencyHz: { type: DataTypes.ARRAY(DataTypes.DOUBLE), allowNull: false },
        magnitude: { type: DataTypes.ARRAY(DataTypes.DOUBLE), allowNull: false },
        phaseDeg: DataTypes.ARRAY(DataTypes.DOUBLE),
        createdAt: DataTypes.DATE,
      },
      { tableName: 'measurements', underscored: true, updatedAt: false },
    ),
  };
  return defined;
}
