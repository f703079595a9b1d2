import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii COLLATE ascii_bin';

/** What was deleted stays for a while; the evenings of a rig stay as long as the rig can be brought back. */
export class Bin1764470000000 implements MigrationInterface {
  readonly name = 'Bin1764470000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`binned\` (
      \`resource\` varchar(16) NOT NULL, \`documentId\` ${ID} NOT NULL, \`rigId\` ${ID} NOT NULL,
      \`isWithRig\` tinyint NOT NULL, \`name\` varchar(80) NOT NULL, \`deletedAt\` datetime(3) NOT NULL,
      \`version\` int NOT NULL, \`doc\` json NOT NULL, \`inForceOn\` json NOT NULL,
      PRIMARY KEY (\`resource\`, \`documentId\`),
      KEY \`ix_binned_deletedAt\` (\`isWithRig\`, \`deletedAt\`), KEY \`ix_binned_rigId\` (\`rigId\`, \`resource\`)
    ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
    await runner.query('ALTER TABLE `evening` DROP FOREIGN KEY `fk_evening_rigId`');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DELETE FROM `evening` WHERE `rigId` NOT IN (SELECT `id` FROM `rig`)');
    await runner.query(
      'ALTER TABLE `evening` ADD CONSTRAINT `fk_evening_rigId` FOREIGN KEY (`rigId`) REFERENCES `rig` (`id`) ON DELETE CASCADE',
    );
    await runner.query('DROP TABLE `binned`');
  }
}
