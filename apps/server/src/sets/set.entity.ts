import { Entity } from 'typeorm';
import {
  FlagColumn,
  IdColumn,
  OptionalJsonColumn,
  OptionalNumberColumn,
  OptionalReferenceColumn,
  OptionalTextColumn,
  OptionalWholeColumn,
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
  @TextColumn(10) date!: string;
  @TextColumn() place!: string;
  @OptionalWholeColumn() startMin!: number | null;
  @OptionalNumberColumn() slotS!: number | null;
  @TextColumn(400) remark!: string;
  @OptionalJsonColumn() calls!: unknown;
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
  @FlagColumn() isEncore!: boolean;
  @FlagColumn() notTonight!: boolean;
  @TextColumn(400) remark!: string;
  @OptionalJsonColumn() leftOutSceneIds!: unknown;
}
