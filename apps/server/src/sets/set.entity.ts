import { Entity } from 'typeorm';
import {
  IdColumn,
  OptionalNumberColumn,
  OptionalReferenceColumn,
  OptionalTextColumn,
  ReferenceColumn,
  TextColumn,
  TimeColumn,
  WholeColumn,
} from '../database/columns';

@Entity('setlist')
export class SetlistRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @TextColumn() name!: string;
  @WholeColumn() version!: number;
  @TimeColumn() savedAt!: Date;
}

@Entity('set_entry')
export class SetEntryRow {
  @IdColumn() id!: string;
  @ReferenceColumn() setlistId!: string;
  @WholeColumn() position!: number;
  @TextColumn(8) kind!: string;
  @OptionalReferenceColumn() songId!: string | null;
  @OptionalTextColumn() name!: string | null;
  @OptionalNumberColumn() lengthS!: number | null;
}
