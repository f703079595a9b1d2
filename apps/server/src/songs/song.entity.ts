import { Entity } from 'typeorm';
import {
  IdColumn,
  NumberColumn,
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
  @NumberColumn() lengthS!: number;
  @WholeColumn() version!: number;
  @TimeColumn() savedAt!: Date;
}

@Entity('scene')
export class SceneRow {
  @IdColumn() id!: string;
  @ReferenceColumn() songId!: string;
  @WholeColumn() position!: number;
  @TextColumn() name!: string;
}

@Entity('scene_value')
export class SceneValueRow {
  @IdColumn() sceneId!: string;
  @IdColumn() functionId!: string;
  @WholeColumn() position!: number;
  @WholeColumn() value!: number;
}
