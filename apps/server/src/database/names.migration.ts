import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A page of the list of songs is found by its names alone, however many songs a rig has. */
export class Names1764490000000 implements MigrationInterface {
  readonly name = 'Names1764490000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `song` ADD KEY `ix_song_name` (`rigId`, `name`, `id`)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `song` DROP KEY `ix_song_name`');
  }
}
