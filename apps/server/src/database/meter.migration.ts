import type { MigrationInterface, QueryRunner } from 'typeorm';

type Change = Record<string, unknown>;
type Row = { readonly id: string; readonly line: string | { readonly tempos: readonly Change[] } };

/** What the beats of bars are; of what was saved before they are quarters, and changes stand at the first beat. */
export class Meter1764420000000 implements MigrationInterface {
  readonly name = 'Meter1764420000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `song` ADD `beatUnit` tinyint NOT NULL DEFAULT 4 AFTER `beatsPerBar`');
    await runner.query('ALTER TABLE `song` ALTER `beatUnit` DROP DEFAULT');
    await eachChange(runner, (change) => ({
      beat: 1,
      beatUnit: change['beatsPerBar'] === null ? null : 4,
      since: null,
      ...change,
    }));
  }

  async down(runner: QueryRunner): Promise<void> {
    await eachChange(runner, ({ beat: _beat, beatUnit: _unit, since: _since, ...change }) => change);
    await runner.query('ALTER TABLE `song` DROP `beatUnit`');
  }
}

/** Writes every change of tempo anew. */
async function eachChange(runner: QueryRunner, to: (change: Change) => Change): Promise<void> {
  const rows = (await runner.query(
    "SELECT `id`, `line` FROM `song` WHERE JSON_LENGTH(`line`, '$.tempos') > 0",
  )) as Row[];
  for (const { id, line } of rows) {
    const before = typeof line === 'string' ? JSON.parse(line) : line;
    const after = JSON.stringify({ ...before, tempos: before.tempos.map(to) });
    await runner.query('UPDATE `song` SET `line` = ? WHERE `id` = ?', [after, id]);
  }
}
