import { Entity } from 'typeorm';
import {
  FlagColumn,
  IdColumn,
  JsonColumn,
  NumberColumn,
  OptionalReferenceColumn,
  OptionalSmallColumn,
  OptionalTextColumn,
  ReferenceColumn,
  SmallColumn,
  TextColumn,
  TimeColumn,
  WholeColumn,
} from '../database/columns';

@Entity('rig')
export class RigRow {
  @IdColumn() id!: string;
  @TextColumn() name!: string;
  @SmallColumn() middleC!: number;
  @WholeColumn() version!: number;
  @TimeColumn() savedAt!: Date;
}

@Entity('device')
export class DeviceRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @TextColumn(400) description!: string;
  @TextColumn(16) role!: string;
  @TextColumn(16) markShape!: string;
  @TextColumn(16) markColour!: string;
  @SmallColumn() channel!: number;
  @SmallColumn() programsShownFrom!: number;
  @OptionalTextColumn(32) standIn!: string | null;
  @FlagColumn() away!: boolean;
}

@Entity('port')
export class PortRow {
  @IdColumn() id!: string;
  @ReferenceColumn() deviceId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @TextColumn(8) direction!: string;
  @TextColumn(16) link!: string;
  @FlagColumn() atComputer!: boolean;
}

@Entity('cable')
export class CableRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @WholeColumn() position!: number;
  @ReferenceColumn() fromPortId!: string;
  @ReferenceColumn() toPortId!: string;
}

@Entity('chart_function')
export class ChartFunctionRow {
  @IdColumn() id!: string;
  @ReferenceColumn() deviceId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @JsonColumn() drive!: unknown;
  @JsonColumn() shape!: unknown;
  @OptionalSmallColumn() channel!: number | null;
  @OptionalTextColumn() arms!: string | null;
  @NumberColumn() settleMs!: number;
}

@Entity('board')
export class BoardRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @WholeColumn() position!: number;
  @ReferenceColumn() deviceId!: string;
  @OptionalReferenceColumn() presetId!: string | null;
  @NumberColumn() widthMm!: number;
  @NumberColumn() heightMm!: number;
  @NumberColumn() xMm!: number;
  @NumberColumn() yMm!: number;
}

@Entity('control')
export class ControlRow {
  @IdColumn() id!: string;
  @ReferenceColumn() boardId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @TextColumn(24) kind!: string;
  @NumberColumn() xMm!: number;
  @NumberColumn() yMm!: number;
  @NumberColumn() widthMm!: number;
  @NumberColumn() heightMm!: number;
  @TextColumn(16) sendsKind!: string;
  @SmallColumn() sendsNumber!: number;
}
