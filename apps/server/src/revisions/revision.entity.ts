import { Entity, PrimaryColumn } from 'typeorm';
import { IdColumn, OptionalJsonColumn, OptionalTextColumn, TimeColumn } from '../database/columns';
import { type Difference, type Json } from '@idle-step/core/edits';

/** One save of one document: whole, or as what it changed of the save before it. */
@Entity('revision')
export class RevisionRow {
  @PrimaryColumn({ type: 'varchar', length: 16 }) resource!: string;
  @IdColumn() documentId!: string;
  @PrimaryColumn({ type: 'int' }) version!: number;
  @TimeColumn() savedAt!: Date;
  @OptionalTextColumn() name!: string | null;
  @OptionalJsonColumn() doc!: Json | null;
  @OptionalJsonColumn() difference!: Difference | null;
}
