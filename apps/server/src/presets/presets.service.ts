import { Injectable } from '@nestjs/common';
import {
  AssignmentSchema,
  presetFaults,
  type BankDoc,
  type PresetDoc,
  type ProblemUser,
  type ReferenceFault,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { Keeper } from '../keeping/keeper';
import { groupRows, syncRows } from '../keeping/sync-rows';
import { rigFor } from '../rigs/rig-for';
import { BoardRow, RigRow } from '../rigs/rig.entity';
import { AssignmentRow, BankRow, ControlGroupRow, PresetRow } from './preset.entity';

@Injectable()
export class PresetsService extends Keeper<PresetDoc, PresetRow> {
  protected readonly resource = 'presets';
  protected readonly what = 'preset';
  protected readonly head = PresetRow;

  protected async read(manager: EntityManager, heads: PresetRow[]): Promise<PresetDoc[]> {
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
      colour: colour as BankDoc['colour'],
      remark,
      assignments: (assignments.get(id) ?? []).map(readAssignment),
    });
    return heads.map(({ id, rigId, boardId, name, folder, feel }) => {
      const all = banksOf.get(id) ?? [];
      return {
        id,
        rigId,
        boardId,
        name,
        folder,
        banks: all.filter((b) => b.groupId === null).map(read),
        groups: (groupsOf.get(id) ?? []).map((group) => ({
          id: group.id,
          name: group.name,
          controlIds: group.controlIds as string[],
          pages: all.filter((b) => b.groupId === group.id).map(read),
        })),
        feel: feel as PresetDoc['feel'],
      };
    });
  }

  protected headOf({ id, rigId, boardId, name, folder, feel }: PresetDoc) {
    return { id, rigId, boardId, name, folder, feel };
  }

  protected async writeRows(manager: EntityManager, doc: PresetDoc): Promise<void> {
    const presetId = doc.id;
    const parent = { column: 'presetId', ids: [presetId] } as const;
    const pages = doc.groups.flatMap((g) => g.pages.map((page) => ({ page, groupId: g.id })));
    const banks = [...doc.banks.map((page) => ({ page, groupId: null })), ...pages];
    await syncRows(
      manager,
      ControlGroupRow,
      parent,
      ['id'],
      doc.groups.map(({ id, name, controlIds }, position) => ({ id, presetId, position, name, controlIds })),
    );
    await syncRows(
      manager,
      BankRow,
      parent,
      ['id'],
      banks.map(({ page: { id, name, colour, remark }, groupId }, position) => ({
        id,
        presetId,
        groupId,
        position,
        name,
        colour,
        remark,
      })),
    );
    await syncRows(
      manager,
      AssignmentRow,
      { column: 'bankId', ids: banks.map((b) => b.page.id) },
      ['bankId', 'controlId'],
      banks.flatMap(({ page }) =>
        page.assignments.map((assignment, position) => ({ ...assignment, bankId: page.id, position })),
      ),
    );
  }

  protected async faults(manager: EntityManager, doc: PresetDoc): Promise<ReferenceFault[]> {
    const rig = await rigFor(manager, doc.rigId);
    return Array.isArray(rig) ? rig : presetFaults(rig, doc);
  }

  /** A board whose preset is deleted has none in force, and nothing is lost by that; one in force stays on its board. */
  protected async users(
    manager: EntityManager,
    before: PresetDoc,
    after: PresetDoc | null,
  ): Promise<ProblemUser[]> {
    if (!after || after.boardId === before.boardId) return [];
    const boards = await manager.findBy(BoardRow, { presetId: before.id });
    const rigs = await manager.findBy(RigRow, { id: In(boards.map((b) => b.rigId)) });
    return rigs.map(({ id, name }) => ({ kind: 'rig', id, name, place: 'the board that it is in force on' }));
  }
}

/** As it is kept: a rule that came later than the row does not make it unreadable, the next save says what is wrong. */
function readAssignment({
  bankId: _b,
  position: _p,
  ...stored
}: AssignmentRow): BankDoc['assignments'][number] {
  const result = AssignmentSchema.safeParse(stored);
  return result.success ? result.data : (stored as unknown as BankDoc['assignments'][number]);
}
