import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Saves as differences, with names; what was kept whole stays whole. */
export class Revisions1764060000000 implements MigrationInterface {
  readonly name = 'Revisions1764060000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `revision` MODIFY `doc` json NULL, ADD `difference` json NULL, ADD `name` varchar(80) NULL',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DELETE FROM `revision` WHERE `doc` IS NULL');
    await runner.query('ALTER TABLE `revision` MODIFY `doc` json NOT NULL, DROP `difference`, DROP `name`');
  }
}
