import { Entity, PrimaryColumn } from 'typeorm';
import {
  FlagColumn,
  IdColumn,
  JsonColumn,
  ReferenceColumn,
  TextColumn,
  TimeColumn,
  WholeColumn,
} from '../database/columns';
import { type Resource } from '@idle-step/contract';

/** A document that was deleted, as it was then. Its saves stay where they are as long as it is here. */
@Entity('binned')
export class BinnedRow {
  @PrimaryColumn({ type: 'varchar', length: 16 }) resource!: Resource;
  @IdColumn() documentId!: string;
  /** Of a rig its own identifier. */
  @ReferenceColumn() rigId!: string;
  /** It went because its rig went, and comes back with it. */
  @FlagColumn() isWithRig!: boolean;
  @TextColumn() name!: string;
  @TimeColumn() deletedAt!: Date;
  @WholeColumn() version!: number;
  @JsonColumn() doc!: unknown;
  /** Boards on which it was in force, where it is a preset. */
  @JsonColumn() inForceOn!: unknown;
}
