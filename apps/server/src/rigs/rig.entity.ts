import { Entity } from 'typeorm';
import {
  FlagColumn,
  IdColumn,
  JsonColumn,
  OptionalJsonColumn,
  OptionalWholeColumn,
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
import { type MiddleC } from '@idle-step/core/midi';

@Entity('rig')
export class RigRow {
  @IdColumn() id!: string;
  @TextColumn() name!: string;
  @SmallColumn() middleC!: MiddleC;
  @WholeColumn() stepGuardMs!: number;
  @JsonColumn() othersTo!: unknown;
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
  @TextColumn(400) place!: string;
  @TextColumn(16) role!: string;
  @TextColumn(16) markShape!: string;
  @TextColumn(16) markColour!: string;
  @SmallColumn() channel!: number;
  @JsonColumn() listens!: unknown;
  @JsonColumn() extraChannels!: unknown;
  @TextColumn(8) bankSelect!: string;
  @OptionalJsonColumn() setting!: unknown;
  @JsonColumn() startUp!: unknown;
  @JsonColumn() keptNumbers!: unknown;
  @SmallColumn() programsShownFrom!: number;
  @OptionalTextColumn() programPattern!: string | null;
  @FlagColumn() soundOffAtPanic!: boolean;
  @TextColumn(400) dumpRequest!: string;
  @TextColumn(32) identity!: string;
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
  @FlagColumn() isUsbHost!: boolean;
  @FlagColumn() plays!: boolean;
  @FlagColumn() learns!: boolean;
  @NumberColumn() latencyMs!: number;
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
  @TextColumn() group!: string;
  @JsonColumn() drive!: unknown;
  @JsonColumn() shape!: unknown;
  @OptionalSmallColumn() channel!: number | null;
  @OptionalTextColumn() extraChannel!: string | null;
  @OptionalTextColumn() under!: string | null;
  @OptionalTextColumn() arms!: string | null;
  @OptionalWholeColumn() powerOn!: number | null;
  @NumberColumn() settleMs!: number;
  @FlagColumn() reserved!: boolean;
  @TextColumn(400) remark!: string;
  @TextColumn(400) request!: string;
  @TextColumn() input!: string;
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
  @TextColumn(16) mode!: string;
  @FlagColumn() isOnScreen!: boolean;
  @TextColumn(16) bankFollows!: string;
  @JsonColumn() can!: unknown;
  @JsonColumn() receiveSteps!: unknown;
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
  @WholeColumn() sendsNumber!: number;
  @OptionalSmallColumn() channel!: number | null;
  @JsonColumn() hardware!: unknown;
}

@Entity('route')
export class RouteRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @FlagColumn() isOn!: boolean;
  @FlagColumn() isLayer!: boolean;
  @JsonColumn() from!: unknown;
  @JsonColumn() change!: unknown;
  @OptionalJsonColumn() gate!: unknown;
  @OptionalJsonColumn() modulation!: unknown;
  @JsonColumn() to!: unknown;
  @TextColumn(8) after!: string;
}

@Entity('route_line')
export class RouteLineRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
}
