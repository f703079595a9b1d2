import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Values of scenes that follow the tempo as a note length. */
export class Notes1764700000000 implements MigrationInterface {
  readonly name = 'Notes1764700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `scene_value` ADD `note` varchar(8) NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `scene_value` DROP `note`');
  }
}
