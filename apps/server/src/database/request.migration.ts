import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The bytes that ask a device for a function's value; charts that were saved before have none. */
export class Request1764140000000 implements MigrationInterface {
  readonly name = 'Request1764140000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      "ALTER TABLE `chart_function` ADD `request` varchar(400) NOT NULL DEFAULT '' AFTER `remark`",
    );
    await runner.query('ALTER TABLE `chart_function` ALTER `request` DROP DEFAULT');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `chart_function` DROP `request`');
  }
}
