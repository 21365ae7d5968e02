import {
  DataTypes,
  type Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelStatic,
} from 'sequelize';
import type { Operation } from 'fast-json-patch';
import type { Figures, Impression, VersionReason } from '@/core/log/log';
import type { Design } from '@/core/document/schema';
import { type FoundNetwork } from '@/core/exploration/found';
import type { SearchLimits } from '@/core/fitting/limits';
import type { SearchState } from '@/core/exploration/serverSearch';
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
  /**
   * Set when deleted (Sequelize's `paranoid`: nothing finds it then); removed for good thirty days
   * later.
   */
  deletedAt: CreationOptional<Date | null>;
  /** State that the others are compared with. */
  pinnedRevision: CreationOptional<number | null>;
  /** Every measurement that any state ever named. */
  measurementIds: CreationOptional<string[]>;
  /** Where the newest state came from, see `SaveTicket`. */
  saveChain: CreationOptional<string | null>;
  saveNumber: CreationOptional<number | null>;
  /** Begun as the demo. */
  isDemo: CreationOptional<boolean>;
}

export interface StateRow extends Model<
  InferAttributes<StateRow>,
  InferCreationAttributes<StateRow>
> {
  projectId: string;
  revision: number;
  version: number;
  savedAt: Date;
  label: string;
  /** From the revision before; null when the state is kept whole. */
  patch: Operation[] | null;
  document: Design | null;
}

export interface VersionRow extends Model<
  InferAttributes<VersionRow>,
  InferCreationAttributes<VersionRow>
> {
  projectId: string;
  number: number;
  variant: string;
  reason: VersionReason;
  name: CreationOptional<string | null>;
  firstRevision: number;
  lastRevision: number;
  startedAt: Date;
  endedAt: Date;
  labels: string[];
  note: CreationOptional<string>;
  impressions: CreationOptional<Impression[]>;
  figures: CreationOptional<Figures | null>;
  /** Rises by one with each change of name, note or impressions. */
  annotationRevision: CreationOptional<number>;
  /** Ticket of the change that came last. */
  annotationChain: CreationOptional<string | null>;
  annotationNumber: CreationOptional<number | null>;
}

export interface LibraryRow extends Model<
  InferAttributes<LibraryRow>,
  InferCreationAttributes<LibraryRow>
> {
  id: CreationOptional<string>;
  name: string;
  /** Drivers, each a sample, and their measurements. */
  document: Design;
  revision: CreationOptional<number>;
  measurementIds: string[];
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
  deletedAt: CreationOptional<Date | null>;
}

interface MeasurementRow extends Model<
  InferAttributes<MeasurementRow>,
  InferCreationAttributes<MeasurementRow>
> {
  id: string;
  frequencyHz: number[];
  magnitude: number[];
  phaseDeg: number[] | null;
  createdAt: CreationOptional<Date>;
}

/** A search as it is kept. */
export interface SearchRow extends Model<
  InferAttributes<SearchRow>,
  InferCreationAttributes<SearchRow>
> {
  id: CreationOptional<string>;
  projectId: string;
  design: unknown;
  limits: SearchLimits;
  state: SearchState;
  stage: number;
  stageName: string;
  stageCount: number;
  tried: number;
  networks: readonly FoundNetwork[];
  trouble: string | null;
  /** Tries that failed for good; a search that they made fail can go on without them. */
  failedBatch: { readonly stage: number; readonly from: number; readonly to: number } | null;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
}

interface SearchTryRow extends Model<
  InferAttributes<SearchTryRow>,
  InferCreationAttributes<SearchTryRow>
> {
  searchId: string;
  stage: number;
  number: number;
  network: FoundNetwork | null;
}

let defined: {
  projects: ModelStatic<ProjectRow>;
  states: ModelStatic<StateRow>;
  versions: ModelStatic<VersionRow>;
  measurements: ModelStatic<MeasurementRow>;
  libraryDrivers: ModelStatic<LibraryRow>;
  searches: ModelStatic<SearchRow>;
  searchTries: ModelStatic<SearchTryRow>;
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
        pinnedRevision: DataTypes.INTEGER,
        measurementIds: {
          type: DataTypes.ARRAY(DataTypes.TEXT),
          allowNull: false,
          defaultValue: [],
        },
        saveChain: DataTypes.UUID,
        saveNumber: DataTypes.INTEGER,
        isDemo: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      },
      { tableName: 'projects', underscored: true, paranoid: true },
    ),
    states: database().define<StateRow>(
      'state',
      {
        projectId: { type: DataTypes.UUID, primaryKey: true },
        revision: { type: DataTypes.INTEGER, primaryKey: true },
        version: { type: DataTypes.INTEGER, allowNull: false },
        savedAt: { type: DataTypes.DATE, allowNull: false },
        label: { type: DataTypes.TEXT, allowNull: false },
        patch: DataTypes.JSONB,
        document: DataTypes.JSONB,
      },
      { tableName: 'states', underscored: true, timestamps: false },
    ),
    versions: database().define<VersionRow>(
      'version',
      {
        projectId: { type: DataTypes.UUID, primaryKey: true },
        number: { type: DataTypes.INTEGER, primaryKey: true },
        variant: { type: DataTypes.TEXT, allowNull: false },
        reason: { type: DataTypes.TEXT, allowNull: false },
        name: DataTypes.TEXT,
        firstRevision: { type: DataTypes.INTEGER, allowNull: false },
        lastRevision: { type: DataTypes.INTEGER, allowNull: false },
        startedAt: { type: DataTypes.DATE, allowNull: false },
        endedAt: { type: DataTypes.DATE, allowNull: false },
        labels: { type: DataTypes.ARRAY(DataTypes.TEXT), allowNull: false },
        note: { type: DataTypes.TEXT, allowNull: false, defaultValue: '' },
        impressions: { type: DataTypes.JSONB, allowNull: false, defaultValue: [] },
        figures: DataTypes.JSONB,
        annotationRevision: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
        annotationChain: DataTypes.UUID,
        annotationNumber: DataTypes.INTEGER,
      },
      { tableName: 'versions', underscored: true, timestamps: false },
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
    libraryDrivers: database().define<LibraryRow>(
      'libraryDriver',
      {
        id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
        name: { type: DataTypes.TEXT, allowNull: false },
        document: { type: DataTypes.JSONB, allowNull: false },
        revision: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 1 },
        measurementIds: { type: DataTypes.ARRAY(DataTypes.TEXT), allowNull: false },
        createdAt: DataTypes.DATE,
        updatedAt: DataTypes.DATE,
        deletedAt: DataTypes.DATE,
      },
      { tableName: 'library_drivers', underscored: true, paranoid: true },
    ),
    searches: database().define<SearchRow>(
      'search',
      {
        id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
        projectId: { type: DataTypes.UUID, allowNull: false },
        design: { type: DataTypes.JSONB, allowNull: false },
        limits: { type: DataTypes.JSONB, allowNull: false },
        state: { type: DataTypes.TEXT, allowNull: false },
        stage: { type: DataTypes.INTEGER, allowNull: false },
        stageName: { type: DataTypes.TEXT, allowNull: false },
        stageCount: { type: DataTypes.INTEGER, allowNull: false },
        tried: { type: DataTypes.INTEGER, allowNull: false },
        networks: { type: DataTypes.JSONB, allowNull: false },
        trouble: DataTypes.TEXT,
        failedBatch: DataTypes.JSONB,
        createdAt: DataTypes.DATE,
        updatedAt: DataTypes.DATE,
      },
      { tableName: 'searches', underscored: true },
    ),
    searchTries: database().define<SearchTryRow>(
      'searchTry',
      {
        searchId: { type: DataTypes.UUID, primaryKey: true },
        stage: { type: DataTypes.INTEGER, primaryKey: true },
        number: { type: DataTypes.INTEGER, primaryKey: true },
        network: DataTypes.JSONB,
      },
      { tableName: 'search_tries', underscored: true, timestamps: false },
    ),
  };
  return defined;
}
