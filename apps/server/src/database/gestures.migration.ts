import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What was saved before had neither holds nor double presses; its times are the first ones of a new assignment. */
const PLAIN_TIMING = '{"holdMs":600,"doubleMs":300,"holdCancelsPress":false}';
const COLUMNS = ['hold', 'doublePress', 'timing'];

/** Holds and double presses of an assignment, with their times. */
export class Gestures1763985000000 implements MigrationInterface {
  readonly name = 'Gestures1763985000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE \`assignment\`
      ADD \`hold\` json NOT NULL DEFAULT '[]' AFTER \`release\`,
      ADD \`doublePress\` json NOT NULL DEFAULT '[]' AFTER \`hold\`,
      ADD \`timing\` json NOT NULL DEFAULT '${PLAIN_TIMING}' AFTER \`doublePress\``);
    await runner.query(
      `ALTER TABLE \`assignment\` ${COLUMNS.map((c) => `ALTER \`${c}\` DROP DEFAULT`).join(', ')}`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE \`assignment\` ${COLUMNS.map((c) => `DROP \`${c}\``).join(', ')}`);
  }
}
