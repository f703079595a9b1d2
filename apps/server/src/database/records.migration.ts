import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii COLLATE ascii_bin';

/** What is known of real gear, and how a board is brought to take what is sent to it. */
export class Records1764850000000 implements MigrationInterface {
  readonly name = 'Records1764850000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`gear_record\` (
      \`id\` ${ID} NOT NULL, \`rigId\` ${ID} NOT NULL, \`aboutId\` ${ID} NOT NULL,
      \`at\` datetime(3) NOT NULL, \`what\` json NOT NULL,
      PRIMARY KEY (\`id\`), KEY \`ix_gear_record_rigId\` (\`rigId\`, \`at\`)
    ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
    await runner.query(
      "ALTER TABLE `device` ADD `dumpRequest` varchar(400) NOT NULL DEFAULT '' AFTER `soundOffAtPanic`",
    );
    await runner.query('ALTER TABLE `device` ALTER `dumpRequest` DROP DEFAULT');
    await runner.query(
      "ALTER TABLE `device` ADD `identity` varchar(32) NOT NULL DEFAULT '' AFTER `dumpRequest`",
    );
    await runner.query('ALTER TABLE `device` ALTER `identity` DROP DEFAULT');
    await runner.query("ALTER TABLE `board` ADD `receiveSteps` json NOT NULL DEFAULT '[]'");
    await runner.query('ALTER TABLE `board` ALTER `receiveSteps` DROP DEFAULT');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `board` DROP `receiveSteps`');
    await runner.query('ALTER TABLE `device` DROP `identity`');
    await runner.query('ALTER TABLE `device` DROP `dumpRequest`');
    await runner.query('DROP TABLE `gear_record`');
  }
}
