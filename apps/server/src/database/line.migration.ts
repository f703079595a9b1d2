import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The time line of a song as it began when this was made: what a new song has since is of no account here. */
const LINE = JSON.stringify({
  cues: [],
  tempos: [],
  loop: null,
  follows: null,
  whenLost: 'wait',
  partsByTime: true,
});

/**
 * Songs with a time line, scenes that arm exactly some tracks, tracks that listen to an input, routes that are layers, and
 * programs that call songs.
 */
export class Line1764230000000 implements MigrationInterface {
  readonly name = 'Line1764230000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `song` ADD `line` json NULL');
    await runner.query('UPDATE `song` SET `line` = ?', [LINE]);
    await runner.query('ALTER TABLE `song` MODIFY `line` json NOT NULL');
    await runner.query('ALTER TABLE `scene` ADD `armedFunctionIds` json NULL');
    await runner.query('ALTER TABLE `route` ADD `isLayer` tinyint NOT NULL DEFAULT 0');
    await runner.query('ALTER TABLE `route` ALTER `isLayer` DROP DEFAULT');
    await runner.query(
      "ALTER TABLE `chart_function` ADD `input` varchar(80) NOT NULL DEFAULT '' AFTER `request`",
    );
    await runner.query('ALTER TABLE `chart_function` ALTER `input` DROP DEFAULT');
    await runner.query('ALTER TABLE `setlist` ADD `calls` json NULL');
    // The level of a layer is no row of a chart; what a value points at is held against the rig with every save.
    await runner.query('ALTER TABLE `scene_value` DROP FOREIGN KEY `fk_scene_value_functionId`');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `song` DROP `line`');
    await runner.query('ALTER TABLE `scene` DROP `armedFunctionIds`');
    await runner.query('ALTER TABLE `route` DROP `isLayer`');
    await runner.query('ALTER TABLE `chart_function` DROP `input`');
    await runner.query('ALTER TABLE `setlist` DROP `calls`');
    await runner.query(
      'DELETE FROM `scene_value` WHERE `functionId` NOT IN (SELECT `id` FROM `chart_function`)',
    );
    await runner.query(
      'ALTER TABLE `scene_value` ADD CONSTRAINT `fk_scene_value_functionId` FOREIGN KEY (`functionId`) REFERENCES `chart_function` (`id`)',
    );
  }
}
