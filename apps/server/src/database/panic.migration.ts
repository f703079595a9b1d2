import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Whether panic cuts the tails of a device; of what was saved before it does. */
export class Panic1764340000000 implements MigrationInterface {
  readonly name = 'Panic1764340000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `device` ADD `soundOffAtPanic` tinyint(1) NOT NULL DEFAULT 1 AFTER `programsShownFrom`',
    );
    await runner.query('ALTER TABLE `device` ALTER `soundOffAtPanic` DROP DEFAULT');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `device` DROP `soundOffAtPanic`');
  }
}
