import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii COLLATE ascii_bin';
const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const head = (table: string): string => `\`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL,
      \`position\` int NOT NULL, \`name\` varchar(80) NOT NULL,
      CONSTRAINT \`fk_${table}_rigId\` FOREIGN KEY (\`rigId\`) REFERENCES \`rig\` (\`id\`) ON DELETE CASCADE`;

/** Rules for messages on their way, and the lines between them. */
export class Routes1764030000000 implements MigrationInterface {
  readonly name = 'Routes1764030000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`route\` (${head('route')},
      \`isOn\` tinyint(1) NOT NULL, \`from\` json NOT NULL, \`change\` json NOT NULL, \`gate\` json NULL,
      \`modulation\` json NULL, \`to\` json NOT NULL, \`after\` varchar(8) NOT NULL) ${TABLE}`);
    await runner.query(`CREATE TABLE \`route_line\` (${head('route_line')}) ${TABLE}`);
    await runner.query("ALTER TABLE `rig` ADD `othersTo` json NOT NULL DEFAULT '[]'");
    await runner.query('ALTER TABLE `rig` ALTER `othersTo` DROP DEFAULT');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `route`');
    await runner.query('DROP TABLE `route_line`');
    await runner.query('ALTER TABLE `rig` DROP `othersTo`');
  }
}
