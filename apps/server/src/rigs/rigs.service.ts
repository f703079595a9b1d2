import { Inject, Injectable } from '@nestjs/common';
import { actionsOf, functionsMoved, presetWithout } from '@idle-step/core/floor';
import { songWithout } from '@idle-step/core/show';
import {
  AssignmentSchema,
  type PresetDoc,
  type ProblemUser,
  type ReferenceFault,
  type RigDoc,
  type SongDoc,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { Keeper } from '../keeping/keeper';
import { AssignmentRow, BankRow, PresetRow } from '../presets/preset.entity';
import { PresetsService } from '../presets/presets.service';
import { SetlistRow } from '../sets/set.entity';
import { SceneRow, SceneValueRow, SongRow } from '../songs/song.entity';
import { SongsService } from '../songs/songs.service';
import { RigRow } from './rig.entity';
import { readRigs, writeRigRows } from './rig.rows';

@Injectable()
export class RigsService extends Keeper<RigDoc, RigRow> {
  protected readonly resource = 'rigs';
  protected readonly what = 'rig';
  protected readonly head = RigRow;

  constructor(
    @Inject(SongsService) private readonly songs: SongsService,
    @Inject(PresetsService) private readonly presets: PresetsService,
  ) {
    super();
  }

  /** Values, actions and sweeps of functions that go, assignments of controls that go, presets of boards that go. */
  protected override async takeOutOfUsers(
    manager: EntityManager,
    before: RigDoc,
    after: RigDoc,
  ): Promise<void> {
    const { functionIds, controlIds, boardIds } = removedParts(before, after);
    await this.songs.rewriteAll(manager, before.id, (song) => songWithout(song, functionIds) as SongDoc);
    await this.presets.rewriteAll(manager, before.id, (preset) =>
      boardIds.has(preset.boardId) ? null : (presetWithout(preset, functionIds, controlIds) as PresetDoc),
    );
  }

  protected read(manager: EntityManager, heads: RigRow[]): Promise<RigDoc[]> {
    return readRigs(manager, heads);
  }

  protected headOf({ id, name, middleC, routing }: RigDoc) {
    return { id, name, middleC, othersTo: routing.othersTo };
  }

  protected writeRows(manager: EntityManager, doc: RigDoc): Promise<void> {
    return writeRigRows(manager, doc);
  }

  /** The preset in force on a board has to be one of that board's. */
  protected async faults(manager: EntityManager, doc: RigDoc): Promise<ReferenceFault[]> {
    const wanted = doc.boards.flatMap((b) => b.presetId ?? []);
    if (wanted.length === 0) return [];
    const presets = new Map((await manager.findBy(PresetRow, { id: In(wanted) })).map((p) => [p.id, p]));
    return doc.boards.flatMap((board, i) => {
      if (board.presetId === null || presets.get(board.presetId)?.boardId === board.id) return [];
      return [
        {
          path: `boards.${i}.presetId`,
          message: 'The preset of this board is gone, or belongs to another board.',
        },
      ];
    });
  }

  protected async users(
    manager: EntityManager,
    before: RigDoc,
    after: RigDoc | null,
  ): Promise<ProblemUser[]> {
    if (!after) return this.usersOfRig(manager, before);
    const { functionIds, controlIds, boardIds } = removedParts(before, after);
    return [
      ...(await usersInSongs(manager, functionIds)),
      ...(await usersInPresets(manager, before.id, functionIds, controlIds)),
      ...(await presetsOf(manager, boardIds)),
    ];
  }

  private async usersOfRig(manager: EntityManager, { id: rigId }: RigDoc): Promise<ProblemUser[]> {
    const named = async (entity: typeof SongRow | typeof PresetRow | typeof SetlistRow, kind: string) =>
      (await manager.findBy(entity, { rigId })).map(({ id, name }) => ({ kind, id, name, place: '' }));
    return [
      ...(await named(PresetRow, 'preset')),
      ...(await named(SongRow, 'song')),
      ...(await named(SetlistRow, 'set')),
    ];
  }
}

const removedParts = (before: RigDoc, after: RigDoc) => ({
  /** Functions and routes: what actions point at. */
  functionIds: removedIds(before, after, (r) => [...r.devices.flatMap((d) => d.chart), ...r.routing.routes]),
  controlIds: removedIds(before, after, (r) => r.boards.flatMap((b) => b.controls)),
  boardIds: removedIds(before, after, (r) => r.boards),
});

function removedIds(
  before: RigDoc,
  after: RigDoc,
  list: (rig: RigDoc) => readonly { id: string }[],
): Set<string> {
  const stays = new Set(list(after).map((x) => x.id));
  return new Set(list(before).flatMap((x) => (stays.has(x.id) ? [] : x.id)));
}

async function usersInSongs(
  manager: EntityManager,
  functionIds: ReadonlySet<string>,
): Promise<ProblemUser[]> {
  if (functionIds.size === 0) return [];
  const values = await manager.findBy(SceneValueRow, { functionId: In([...functionIds]) });
  const scenes = await manager.findBy(SceneRow, { id: In(values.map((v) => v.sceneId)) });
  const songs = new Map(
    (await manager.findBy(SongRow, { id: In(scenes.map((s) => s.songId)) })).map((s) => [s.id, s]),
  );
  return scenes.map((scene) => ({
    kind: 'song',
    id: scene.songId,
    name: songs.get(scene.songId)?.name ?? '',
    place: scene.name,
  }));
}

async function usersInPresets(
  manager: EntityManager,
  rigId: string,
  functionIds: ReadonlySet<string>,
  controlIds: ReadonlySet<string>,
): Promise<ProblemUser[]> {
  if (functionIds.size === 0 && controlIds.size === 0) return [];
  const presets = await manager.findBy(PresetRow, { rigId });
  const banks = await manager.findBy(BankRow, { presetId: In(presets.map((p) => p.id)) });
  const assignments = await manager.findBy(AssignmentRow, { bankId: In(banks.map((b) => b.id)) });
  return assignments.flatMap((row) => {
    const assignment = AssignmentSchema.parse(row);
    const switched = actionsOf(assignment).flatMap((a) => ('routeId' in a ? a.routeId : []));
    const moved = [...functionsMoved(assignment), ...switched];
    if (!controlIds.has(row.controlId) && !moved.some((id) => functionIds.has(id))) return [];
    const bank = banks.find((b) => b.id === row.bankId);
    const preset = presets.find((p) => p.id === bank?.presetId);
    return [{ kind: 'preset', id: preset?.id ?? '', name: preset?.name ?? '', place: bank?.name ?? '' }];
  });
}

async function presetsOf(manager: EntityManager, boardIds: ReadonlySet<string>): Promise<ProblemUser[]> {
  if (boardIds.size === 0) return [];
  const presets = await manager.findBy(PresetRow, { boardId: In([...boardIds]) });
  return presets.map(({ id, name }) => ({ kind: 'preset', id, name, place: '' }));
}
