import { Entity } from 'typeorm';
import {
  IdColumn,
  JsonColumn,
  NumberColumn,
  OptionalJsonColumn,
  OptionalNumberColumn,
  OptionalTextColumn,
  ReferenceColumn,
  SmallColumn,
  TextColumn,
  TimeColumn,
  WholeColumn,
} from '../database/columns';

@Entity('song')
export class SongRow {
  @IdColumn() id!: string;
  @ReferenceColumn() rigId!: string;
  @TextColumn() name!: string;
  @NumberColumn() tempoBpm!: number;
  @SmallColumn() beatsPerBar!: number;
  @SmallColumn() beatUnit!: number;
  @SmallColumn() countInBars!: number;
  @NumberColumn() lengthS!: number;
  @TextColumn(20) key!: string;
  @TextColumn(400) remark!: string;
  @JsonColumn() tags!: unknown;
  @JsonColumn() parts!: unknown;
  @JsonColumn() line!: unknown;
  @WholeColumn() version!: number;
  @TimeColumn() savedAt!: Date;
}

@Entity('scene')
export class SceneRow {
  @IdColumn() id!: string;
  @ReferenceColumn() songId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
  @OptionalTextColumn(16) colour!: string | null;
  @TextColumn(400) remark!: string;
  @OptionalJsonColumn() transition!: unknown;
  @OptionalNumberColumn() tempoBpm!: number | null;
  @JsonColumn() banks!: unknown;
  @JsonColumn() routes!: unknown;
  @OptionalJsonColumn() armedFunctionIds!: unknown;
  @JsonColumn() controls!: unknown;
}

@Entity('scene_value')
export class SceneValueRow {
  @IdColumn() sceneId!: string;
  @IdColumn() functionId!: string;
  @WholeColumn() position!: number;
  @WholeColumn() value!: number;
  @OptionalJsonColumn() way!: unknown;
  @OptionalTextColumn(8) note!: string | null;
}
