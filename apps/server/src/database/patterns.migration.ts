import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How displays count their programs, where they are no plain numbers. */
export class Patterns1764500000000 implements MigrationInterface {
  readonly name = 'Patterns1764500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `device` ADD `programPattern` varchar(80) NULL AFTER `programsShownFrom`',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `device` DROP `programPattern`');
  }
}
