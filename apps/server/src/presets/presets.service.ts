import type { Preset } from '@idle-step/core/floor';
import { Injectable } from '@nestjs/common';
import {
  AssignmentSchema,
  presetFaults,
  PresetSchema,
  withoutFaults,
  type ProblemUser,
  type ReferenceFault,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { taken } from '../http/problem.exception';
import { asKept } from '../keeping/asKept';
import { Keeper } from '../keeping/keeper';
import { groupRows, syncRows } from '../keeping/sync-rows';
import { rigFor, rigToComeBackTo } from '../rigs/rig-for';
import { BoardRow, RigRow } from '../rigs/rig.entity';
import { AssignmentRow, BankRow, ControlGroupRow, PresetRow } from './preset.entity';
import { nth } from '@idle-step/core/sure';

@Injectable()
export class PresetsService extends Keeper<Preset, PresetRow> {
  protected readonly resource = 'presets';
  protected readonly what = 'preset';
  protected readonly head = PresetRow;
  protected readonly schema = PresetSchema;

  protected async read(manager: EntityManager, heads: PresetRow[]): Promise<Preset[]> {
    const presetId = In(heads.map((h) => h.id));
    const banks = await manager.findBy(BankRow, { presetId });
    const groupsOf = groupRows(await manager.findBy(ControlGroupRow, { presetId }), 'presetId');
    const assignments = groupRows(
      await manager.findBy(AssignmentRow, { bankId: In(banks.map((b) => b.id)) }),
      'bankId',
    );
    const banksOf = groupRows(banks, 'presetId');
    const read = ({ id, name, colour, remark }: BankRow) => ({
      id,
      name,
      colour,
      remark,
      assignments: (assignments.get(id) ?? []).map(readAssignment),
    });
    return heads.map(({ id, rigId, boardId, name, folder, feel }) => {
      const all = banksOf.get(id) ?? [];
      return asKept(PresetSchema, {
        id,
        rigId,
        boardId,
        name,
        folder,
        banks: all.filter((b) => b.groupId === null).map(read),
        groups: (groupsOf.get(id) ?? []).map((group) => ({
          id: group.id,
          name: group.name,
          controlIds: group.controlIds,
          pages: all.filter((b) => b.groupId === group.id).map(read),
        })),
        feel,
      });
    });
  }

  protected headOf({ id, rigId, boardId, name, folder, feel }: Preset) {
    return { id, rigId, boardId, name, folder, feel };
  }

  protected async writeRows(manager: EntityManager, docs: readonly Preset[]): Promise<void> {
    const parent = { column: 'presetId', ids: docs.map((d) => d.id) } as const;
    const pages = docs.flatMap((doc) => {
      const ofGroups = doc.groups.flatMap((g) => g.pages.map((page) => ({ page, groupId: g.id })));
      const all = [...doc.banks.map((page) => ({ page, groupId: null })), ...ofGroups];
      return all.map((p, position) => ({ ...p, presetId: doc.id, position }));
    });
    await syncRows(
      manager,
      ControlGroupRow,
      parent,
      ['id'],
      docs.flatMap((doc) =>
        doc.groups.map(({ id, name, controlIds }, position) => {
          return { id, presetId: doc.id, position, name, controlIds };
        }),
      ),
    );
    await syncRows(
      manager,
      BankRow,
      parent,
      ['id'],
      pages.map(({ page: { id, name, colour, remark }, groupId, presetId, position }) => {
        return { id, presetId, groupId, position, name, colour, remark };
      }),
    );
    await syncRows(
      manager,
      AssignmentRow,
      { column: 'bankId', ids: pages.map((p) => p.page.id) },
      ['bankId', 'controlId'],
      pages.flatMap(({ page }) =>
        page.assignments.map((assignment, position) => ({ ...assignment, bankId: page.id, position })),
      ),
    );
  }

  protected async faults(manager: EntityManager, docs: readonly Preset[]): Promise<ReferenceFault[][]> {
    const rig = await rigFor(manager, nth(docs, 0).rigId);
    return docs.map((doc) => (Array.isArray(rig) ? rig : presetFaults(rig, doc)));
  }

  protected async fitted(manager: EntityManager, doc: Preset): Promise<Preset> {
    const rig = await rigToComeBackTo(manager, doc.rigId);
    if (!rig.boards.some((b) => b.id === doc.boardId))
      throw taken('The board that it was made for is gone from the rig.');
    const fitting = withoutFaults(rig, doc);
    if (!fitting) throw taken('Nothing of it fits the rig any more.');
    return fitting;
  }

  protected override async inForceOn(manager: EntityManager, id: string): Promise<string[]> {
    return (await manager.findBy(BoardRow, { presetId: id })).map((b) => b.id);
  }

  /** A board whose preset is deleted has none in force, and nothing is lost by that; one in force stays on its board. */
  protected async users(
    manager: EntityManager,
    before: Preset,
    after: Preset | null,
  ): Promise<ProblemUser[]> {
    if (!after || after.boardId === before.boardId) return [];
    const boards = await manager.findBy(BoardRow, { presetId: before.id });
    const rigs = await manager.findBy(RigRow, { id: In(boards.map((b) => b.rigId)) });
    return rigs.map(({ id, name }) => ({ kind: 'rig', id, name, place: 'the board that it is in force on' }));
  }
}

const readAssignment = ({ bankId: _b, position: _p, ...stored }: AssignmentRow) =>
  asKept(AssignmentSchema, stored);
