import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What is switched over, a route, a loop, the time line, is written as what it is called: `toggle`. */
export class Toggle1764320000000 implements MigrationInterface {
  readonly name = 'Toggle1764320000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewrite(runner, 'turn', 'toggle');
  }

  async down(runner: QueryRunner): Promise<void> {
    await rewrite(runner, 'toggle', 'turn');
  }
}

/** Every column in which actions are kept. */
const COLUMNS: readonly (readonly [table: string, columns: readonly string[]])[] = [
  ['assignment', ['press', 'release', 'hold', 'doublePress', 'toe', 'heel', 'touch']],
  ['song', ['line']],
  ['revision', ['doc', 'difference']],
];

async function rewrite(runner: QueryRunner, from: string, to: string): Promise<void> {
  for (const [table, columns] of COLUMNS)
    for (const column of columns)
      await runner.query(
        `UPDATE \`${table}\` SET \`${column}\` = REPLACE(\`${column}\`, ?, ?) WHERE \`${column}\` LIKE ?`,
        [`"to":"${from}"`, `"to":"${to}"`, `%"to":"${from}"%`],
      );
}
