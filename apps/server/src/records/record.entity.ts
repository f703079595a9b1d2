import { Entity } from 'typeorm';
import { IdColumn, JsonColumn, ReferenceColumn, TimeColumn } from '../database/columns';

/** What is known of real gear: a board's memory, a dump, a line check. */
@Entity('gear_record')
export class GearRecordRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @ReferenceColumn() aboutId!: string;
  @TimeColumn() at!: Date;
  @JsonColumn() what!: object;
}
