import { Entity, PrimaryColumn } from 'typeorm';
import { IdColumn, JsonColumn, TimeColumn } from '../database/columns';

/** One save of one document, whole. */
@Entity('revision')
export class RevisionRow {
  @PrimaryColumn({ type: 'varchar', length: 16 }) resource!: string;
  @IdColumn() documentId!: string;
  @PrimaryColumn({ type: 'int' }) version!: number;
  @TimeColumn() savedAt!: Date;
  @JsonColumn() doc!: unknown;
}
