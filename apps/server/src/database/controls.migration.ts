import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What controls do from a scene on, in place of what their bank says; banks that follow the song; songs that are not
 * played tonight; bars that are counted in.
 */
export class Controls1764600000000 implements MigrationInterface {
  readonly name = 'Controls1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `scene` ADD `controls` json NULL');
    await runner.query("UPDATE `scene` SET `controls` = '[]'");
    await runner.query('ALTER TABLE `scene` MODIFY `controls` json NOT NULL');
    await runner.query(
      "ALTER TABLE `board` ADD `bankFollows` varchar(16) NOT NULL DEFAULT 'nothing' AFTER `isOnScreen`",
    );
    await runner.query('ALTER TABLE `board` ALTER `bankFollows` DROP DEFAULT');
    await runner.query(
      'ALTER TABLE `set_entry` ADD `notTonight` tinyint(1) NOT NULL DEFAULT 0 AFTER `isEncore`',
    );
    await runner.query('ALTER TABLE `set_entry` ALTER `notTonight` DROP DEFAULT');
    await runner.query('ALTER TABLE `song` ADD `countInBars` tinyint NOT NULL DEFAULT 0 AFTER `beatUnit`');
    await runner.query('ALTER TABLE `song` ALTER `countInBars` DROP DEFAULT');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `scene` DROP `controls`');
    await runner.query('ALTER TABLE `board` DROP `bankFollows`');
    await runner.query('ALTER TABLE `set_entry` DROP `notTonight`');
    await runner.query('ALTER TABLE `song` DROP `countInBars`');
  }
}
