import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { RigSchema, type BinLine, type BroughtBack, type Page, type Resource } from '@idle-step/contract';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { z } from 'zod';
import { gone } from '../http/problem.exception';
import { asKept } from '../keeping/asKept';
import { inTransaction } from '../keeping/transaction';
import { PresetsService } from '../presets/presets.service';
import { BoardRow } from '../rigs/rig.entity';
import { RigsService } from '../rigs/rigs.service';
import { SetsService } from '../sets/sets.service';
import { SongsService } from '../songs/songs.service';
import { WholeRigs } from '../whole/whole.service';
import { Bin } from './bin';
import type { BinnedRow } from './binned.entity';

/** How often it is looked whether something has been in the bin for long enough. */
const LOOK_EVERY_MS = 6 * 3_600_000;

/** What was deleted: listed, brought back, and deleted for good. */
@Injectable()
export class BinService implements OnApplicationBootstrap, OnApplicationShutdown {
  private timer: NodeJS.Timeout | null = null;

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    @Inject(RigsService) private readonly rigs: RigsService,
    @Inject(PresetsService) private readonly presets: PresetsService,
    @Inject(SongsService) private readonly songs: SongsService,
    @Inject(SetsService) private readonly sets: SetsService,
    @Inject(WholeRigs) private readonly whole: WholeRigs,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    await this.emptyOld(new Date());
    // A database that is away for a moment is asked again the next time.
    this.timer = setInterval(() => void this.emptyOld(new Date()).catch(() => undefined), LOOK_EVERY_MS);
    this.timer.unref();
  }

  onApplicationShutdown(): void {
    if (this.timer) clearInterval(this.timer);
  }

  lines(name: string, from: number, count: number): Promise<Page<BinLine>> {
    return this.db.transaction((manager) => new Bin(manager).lines(name, from, count));
  }

  /** Brings something back, with its earlier saves; a preset is in force again where nothing else is. */
  bringBack(resource: Resource, id: string): Promise<BroughtBack> {
    return inTransaction(this.db, async (manager) => {
      const row = await new Bin(manager).find(resource, id);
      if (!row) throw gone(`${WORDS[resource]} in the bin`, id);
      const leftOut = await this.bringRowBack(manager, resource, row);
      return { resource, id, rigId: row.rigId, leftOut };
    });
  }

  async empty(resource: Resource, id: string): Promise<void> {
    await inTransaction(this.db, async (manager) => {
      if (!(await new Bin(manager).empty({ resource, documentId: id })))
        throw gone(`${WORDS[resource]} in the bin`, id);
    });
  }

  /** @returns how many were deleted for good. */
  emptyOld(now: Date): Promise<number> {
    return inTransaction(this.db, (manager) => new Bin(manager).emptyOld(now));
  }

  private async bringRowBack(manager: EntityManager, resource: Resource, row: BinnedRow): Promise<string[]> {
    switch (resource) {
      case 'rigs': {
        await this.whole.bringBackIn(manager, asKept(RigSchema, row.doc));
        return [];
      }
      case 'songs':
        return this.songs.bringBackIn(manager, row);
      case 'sets':
        return this.sets.bringBackIn(manager, row);
      case 'presets': {
        const leftOut = await this.presets.bringBackIn(manager, row);
        await this.putInForce(manager, row);
        return leftOut;
      }
    }
  }

  private async putInForce(
    manager: EntityManager,
    { rigId, documentId, inForceOn }: BinnedRow,
  ): Promise<void> {
    const wanted = asKept(z.array(z.string()), inForceOn);
    const boards = await manager.findBy(BoardRow, { rigId });
    const free = new Set(boards.flatMap((b) => (wanted.includes(b.id) && b.presetId === null ? b.id : [])));
    if (free.size === 0) return;
    await this.rigs.changeIn(manager, rigId, (rig) => ({
      ...rig,
      boards: rig.boards.map((b) => (free.has(b.id) ? { ...b, presetId: documentId } : b)),
    }));
  }
}

const WORDS: Readonly<Record<Resource, string>> = {
  rigs: 'rig',
  presets: 'preset',
  songs: 'song',
  sets: 'set',
};
