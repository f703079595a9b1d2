import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How one control is struck by itself, and the numbers that a device keeps; what was saved before has neither. */
export class Touch1764110000000 implements MigrationInterface {
  readonly name = 'Touch1764110000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `assignment` ADD `touch` json NULL AFTER `response`');
    await runner.query("ALTER TABLE `device` ADD `keptNumbers` json NOT NULL DEFAULT '[]' AFTER `startUp`");
    await runner.query('ALTER TABLE `device` ALTER `keptNumbers` DROP DEFAULT');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `assignment` DROP `touch`');
    await runner.query('ALTER TABLE `device` DROP `keptNumbers`');
  }
}
