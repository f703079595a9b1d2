import { Entity } from 'typeorm';
import {
  OptionalJsonColumn,
  OptionalReferenceColumn,
  OptionalTextColumn,
  IdColumn,
  JsonColumn,
  ReferenceColumn,
  TextColumn,
  TimeColumn,
  WholeColumn,
} from '../database/columns';

@Entity('preset')
export class PresetRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @ReferenceColumn() boardId!: string;
  @TextColumn() name!: string;
  @TextColumn() folder!: string;
  @JsonColumn() feel!: unknown;
  @WholeColumn() version!: number;
  @TimeColumn() savedAt!: Date;
}

/** Controls with pages of their own; the pages are banks that belong to the group. */
@Entity('control_group')
export class ControlGroupRow {
  @IdColumn() id!: string;
  @ReferenceColumn() presetId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @JsonColumn() controlIds!: unknown;
}

@Entity('bank')
export class BankRow {
  @IdColumn() id!: string;
  @ReferenceColumn() presetId!: string;
  /** The group whose page it is, `null` for a bank of the whole board. */
  @OptionalReferenceColumn() groupId!: string | null;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @OptionalTextColumn(16) colour!: string | null;
  @TextColumn(400) remark!: string;
}

@Entity('assignment')
export class AssignmentRow {
  @IdColumn() bankId!: string;
  @IdColumn() controlId!: string;
  @WholeColumn() position!: number;
  @TextColumn(40) label!: string;
  @OptionalTextColumn(16) colour!: string | null;
  @TextColumn(400) remark!: string;
  @JsonColumn() press!: unknown;
  @JsonColumn() release!: unknown;
  @JsonColumn() hold!: unknown;
  @JsonColumn() doublePress!: unknown;
  @JsonColumn() timing!: unknown;
  @JsonColumn() sweeps!: unknown;
  @JsonColumn() toe!: unknown;
  @JsonColumn() heel!: unknown;
  @JsonColumn() response!: unknown;
  @OptionalJsonColumn() touch!: unknown;
  @OptionalJsonColumn() lamp!: unknown;
}
