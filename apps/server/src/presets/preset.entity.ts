import { Entity } from 'typeorm';
import {
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
  @WholeColumn() version!: number;
  @TimeColumn() savedAt!: Date;
}

@Entity('bank')
export class BankRow {
  @IdColumn() id!: string;
  @ReferenceColumn() presetId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
}

@Entity('assignment')
export class AssignmentRow {
  @IdColumn() bankId!: string;
  @IdColumn() controlId!: string;
  @WholeColumn() position!: number;
  @TextColumn(40) label!: string;
  @JsonColumn() press!: unknown;
  @JsonColumn() release!: unknown;
  @JsonColumn() hold!: unknown;
  @JsonColumn() doublePress!: unknown;
  @JsonColumn() timing!: unknown;
  @JsonColumn() sweeps!: unknown;
}
