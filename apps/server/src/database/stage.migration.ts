import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Steps that are guarded against being doubled, and the evenings that were played, with what happened in them. */
export class Stage1764300000000 implements MigrationInterface {
  readonly name = 'Stage1764300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `rig` ADD `stepGuardMs` int NOT NULL DEFAULT 200 AFTER `middleC`');
    await runner.query('ALTER TABLE `rig` ALTER `stepGuardMs` DROP DEFAULT');
    await runner.query(`CREATE TABLE \`evening\` (
      \`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL, \`setId\` ${ID} NULL,
      \`setName\` varchar(80) NOT NULL, \`startedAt\` datetime(3) NOT NULL, \`endedAt\` datetime(3) NULL,
      \`plan\` json NOT NULL,
      CONSTRAINT \`fk_evening_rigId\` FOREIGN KEY (\`rigId\`) REFERENCES \`rig\` (\`id\`) ON DELETE CASCADE
    ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
    await runner.query(`CREATE TABLE \`evening_entry\` (
      \`eveningId\` ${ID} NOT NULL, \`number\` int NOT NULL, \`atMs\` double NOT NULL, \`body\` json NOT NULL,
      PRIMARY KEY (\`eveningId\`, \`number\`),
      CONSTRAINT \`fk_evening_entry_eveningId\` FOREIGN KEY (\`eveningId\`) REFERENCES \`evening\` (\`id\`)
        ON DELETE CASCADE
    ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `evening_entry`');
    await runner.query('DROP TABLE `evening`');
    await runner.query('ALTER TABLE `rig` DROP `stepGuardMs`');
  }
}

const ID = 'char(36) CHARACTER SET ascii COLLATE ascii_bin';
