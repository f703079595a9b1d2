import { Injectable } from '@nestjs/common';
import {
  AssignmentSchema,
  presetFaults,
  type PresetDoc,
  type ProblemUser,
  type ReferenceFault,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { Keeper } from '../keeping/keeper';
import { groupRows, syncRows } from '../keeping/sync-rows';
import { rigFor } from '../rigs/rig-for';
import { AssignmentRow, BankRow, PresetRow } from './preset.entity';

@Injectable()
export class PresetsService extends Keeper<PresetDoc, PresetRow> {
  protected readonly resource = 'presets';
  protected readonly what = 'preset';
  protected readonly head = PresetRow;

  protected async read(manager: EntityManager, heads: PresetRow[]): Promise<PresetDoc[]> {
    const banks = await manager.findBy(BankRow, { presetId: In(heads.map((h) => h.id)) });
    const assignments = groupRows(
      await manager.findBy(AssignmentRow, { bankId: In(banks.map((b) => b.id)) }),
      'bankId',
    );
    const banksOf = groupRows(banks, 'presetId');
    return heads.map(({ id, rigId, boardId, name }) => ({
      id,
      rigId,
      boardId,
      name,
      banks: (banksOf.get(id) ?? []).map((bank) => ({
        id: bank.id,
        name: bank.name,
        assignments: (assignments.get(bank.id) ?? []).map((row) => AssignmentSchema.parse(row)),
      })),
    }));
  }

  protected headOf({ id, rigId, boardId, name }: PresetDoc) {
    return { id, rigId, boardId, name };
  }

  protected async writeRows(manager: EntityManager, doc: PresetDoc): Promise<void> {
    await syncRows(
      manager,
      BankRow,
      { column: 'presetId', ids: [doc.id] },
      ['id'],
      doc.banks.map(({ id, name }, position) => ({ id, name, presetId: doc.id, position })),
    );
    await syncRows(
      manager,
      AssignmentRow,
      { column: 'bankId', ids: doc.banks.map((b) => b.id) },
      ['bankId', 'controlId'],
      doc.banks.flatMap((bank) =>
        bank.assignments.map((assignment, position) => ({ ...assignment, bankId: bank.id, position })),
      ),
    );
  }

  protected async faults(manager: EntityManager, doc: PresetDoc): Promise<ReferenceFault[]> {
    const rig = await rigFor(manager, doc.rigId);
    return Array.isArray(rig) ? rig : presetFaults(rig, doc);
  }

  /** A board whose preset is deleted has none in force; nothing is lost by that. */
  protected users(): Promise<ProblemUser[]> {
    return Promise.resolve([]);
  }
}
