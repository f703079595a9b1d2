import {
  BackupSchema,
  type BackedUp,
  type Backup,
  type Backups,
  type RigProgress,
} from '@idle-step/contract';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { DataSource } from 'typeorm';
import { gone, taken } from '../http/problem.exception';
import { PresetRow } from '../presets/preset.entity';
import { RigRow } from '../rigs/rig.entity';
import { SetlistRow } from '../sets/set.entity';
import { SongRow } from '../songs/song.entity';
import { WholeRigs } from '../whole/whole.service';

/** Where backups lie, or `null` where none are made. */
export const BACKUP_FOLDER = Symbol('backup folder');

/** So many that were made by themselves are kept. */
const KEPT = 7;
/** One is made by itself where the last is older than this, in ms. */
const DAY_MS = 24 * 3600_000;
/** How often that is looked at, in ms; for the first time a minute after the start. */
const LOOK_MS = 3600_000;
const FIRST_LOOK_MS = 60_000;

const INDEX = 'index.json';
/** What is not whole yet is called so. */
const UNFINISHED = '.unfinished';

/** Backups of all rigs: each a folder with a rig file for each, and what is in it. One is made daily, and on request. */
@Injectable()
export class BackupsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('Backups');
  private timer: NodeJS.Timeout | undefined;
  private progress: RigProgress = { done: 0, of: 0 };
  private running: Promise<Backup> | null = null;

  constructor(
    @Inject(DataSource) private readonly db: DataSource,
    @Inject(WholeRigs) private readonly whole: WholeRigs,
    @Inject(BACKUP_FOLDER) private readonly folder: string | null,
  ) {}

  onApplicationBootstrap(): void {
    if (this.folder === null) return;
    this.timer = setTimeout(() => void this.look(), FIRST_LOOK_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    clearTimeout(this.timer);
    await this.running?.catch(() => undefined);
  }

  /** Makes the daily backup where it is due, and looks again in an hour. What fails is said in the log. */
  private async look(): Promise<void> {
    try {
      await this.daily(new Date());
    } catch (error) {
      this.log.error(
        `The daily backup was not made: ${error instanceof Error ? error.message : String(error)}`,
      );
    }
    this.timer = setTimeout(() => void this.look(), LOOK_MS).unref();
  }

  /** @returns the backup that was made, or `null` where the last one is young enough or there is nothing. */
  async daily(now: Date): Promise<Backup | null> {
    const { backups } = await this.list();
    const last = backups[0];
    if (last && now.getTime() - Date.parse(last.at) < DAY_MS) return null;
    if ((await this.db.manager.count(RigRow)) === 0) return null;
    const made = await this.make(now, false);
    await this.thin();
    return made;
  }

  async list(): Promise<Backups> {
    if (this.folder === null) return { folder: null, kept: KEPT, backups: [] };
    const names = await readdir(this.folder).catch(() => []);
    const found = await Promise.all(names.filter((n) => !n.endsWith(UNFINISHED)).map((n) => this.read(n)));
    const backups = found.flatMap((b) => b ?? []).sort((a, b) => b.at.localeCompare(a.at));
    return { folder: this.folder, kept: KEPT, backups };
  }

  /** A backup now: one at a time. */
  make(now = new Date(), isByHand = true): Promise<Backup> {
    this.running ??= this.written(now, isByHand).finally(() => {
      this.running = null;
      this.progress = { done: 0, of: 0 };
    });
    return this.running;
  }

  /** How many songs of the backup on its way are written. */
  progressNow(): RigProgress {
    return this.progress;
  }

  /** The text of a rig in a backup, in pieces. */
  async *text(name: string, rigId: string): AsyncGenerator<string> {
    const backup = BackupSchema.shape.name.safeParse(name).success ? await this.read(name) : null;
    if (this.folder === null || !backup?.rigs.some((r) => r.id === rigId))
      throw gone('backup', `${name}/${rigId}`);
    for await (const piece of createReadStream(join(this.folder, name, fileOf(rigId)), { encoding: 'utf8' }))
      // A stream that is read with an encoding gives text.
      yield piece as string;
  }

  /** What a folder has; `null` for what is no whole backup. */
  private async read(name: string): Promise<Backup | null> {
    if (this.folder === null) return null;
    try {
      const text = await readFile(join(this.folder, name, INDEX), 'utf8');
      return BackupSchema.safeParse(JSON.parse(text)).data ?? null;
    } catch {
      return null;
    }
  }

  private async written(now: Date, isByHand: boolean): Promise<Backup> {
    if (this.folder === null) throw taken('This server was started without a folder for backups.');
    const at = now.toISOString();
    const name = `${at.replace(/[-:.]/g, '')}${isByHand ? '-by-hand' : ''}`;
    const unfinished = join(this.folder, `${name}${UNFINISHED}`);
    await rm(unfinished, { recursive: true, force: true });
    await mkdir(unfinished, { recursive: true });
    try {
      const rigs: BackedUp[] = [];
      const heads = await this.db.manager.find(RigRow, {
        select: { id: true, name: true },
        order: { name: 'ASC' },
      });
      this.progress = { done: 0, of: await this.db.manager.count(SongRow) };
      for (const head of heads) rigs.push(await this.writtenRig(unfinished, head));
      const backup: Backup = { name, at, isByHand, rigs };
      await writeFile(join(unfinished, INDEX), `${JSON.stringify(backup, null, 2)}\n`);
      await rename(unfinished, join(this.folder, name));
      return backup;
    } catch (error) {
      await rm(unfinished, { recursive: true, force: true });
      throw error;
    }
  }

  private async writtenRig(folder: string, { id, name }: Pick<RigRow, 'id' | 'name'>): Promise<BackedUp> {
    const { manager } = this.db;
    const where = { rigId: id };
    const songs = await manager.countBy(SongRow, where);
    const before = this.progress.done;
    const file = join(folder, fileOf(id));
    await pipeline(this.counted(this.whole.text(id), before + songs), createWriteStream(file));
    this.progress = { ...this.progress, done: before + songs };
    const { size: bytes } = await stat(file);
    return {
      id,
      name,
      songs,
      sets: await manager.countBy(SetlistRow, where),
      presets: await manager.countBy(PresetRow, where),
      bytes,
    };
  }

  /** The same pieces; songs are most of them, and each has one field of its scenes. */
  private async *counted(pieces: AsyncGenerator<string>, most: number): AsyncGenerator<string> {
    for await (const piece of pieces) {
      const done = this.progress.done + piece.split('"scenes":').length - 1;
      this.progress = { ...this.progress, done: Math.min(most, done) };
      yield piece;
    }
  }

  /** The oldest that were made by themselves go; those made by hand stay. */
  private async thin(): Promise<void> {
    const { folder, backups } = await this.list();
    if (folder === null) return;
    for (const { name } of backups.filter((b) => !b.isByHand).slice(KEPT))
      await rm(join(folder, name), { recursive: true, force: true });
  }
}

const fileOf = (rigId: string): string => `${rigId}.rig.json`;
