import { Entity, PrimaryColumn } from 'typeorm';
import {
  IdColumn,
  JsonColumn,
  NumberColumn,
  OptionalReferenceColumn,
  OptionalTimeColumn,
  ReferenceColumn,
  TextColumn,
  TimeColumn,
} from '../database/columns';

@Entity('evening')
export class EveningRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @OptionalReferenceColumn() setId!: string | null;
  @TextColumn() setName!: string;
  @TimeColumn() startedAt!: Date;
  @OptionalTimeColumn() endedAt!: Date | null;
  @JsonColumn() plan!: unknown;
}

/** One line of the log of an evening, told once however often it is sent. */
@Entity('evening_entry')
export class EveningEntryRow {
  @IdColumn() eveningId!: string;
  @PrimaryColumn({ type: 'int' }) number!: number;
  @NumberColumn() atMs!: number;
  @JsonColumn() body!: object;
}
