import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii COLLATE ascii_bin';

/** What boards, controls and assignments of earlier saves are like: the same as new ones. */
const CAN =
  '{"banks":null,"actions":null,"gestures":["press","release","hold","doublePress","toe","heel"],' +
  '"messages":["note","controller","program","sysex","clock"]}';
const HARDWARE =
  '{"switching":"momentary","edge":"both","debounceMs":0,"heel":0,"toe":127,"deadZone":0,"jitter":0,' +
  '"encoding":"absolute","lamp":null}';
const RESPONSE =
  '{"takeover":"jump","slowStep":1,"fastStep":4,"fastPerS":30,"growth":"linear","reverse":false,"wrap":false,' +
  '"toeAt":96,"heelAt":4,"hysteresis":4}';

const ADDED: readonly {
  table: string;
  columns: readonly [name: string, type: string, first: string | null][];
}[] = [
  {
    table: 'board',
    columns: [
      ['mode', 'varchar(16)', 'hosted'],
      ['isOnScreen', 'tinyint(1)', '0'],
      ['can', 'json', CAN],
    ],
  },
  {
    table: 'control',
    columns: [
      ['channel', 'tinyint', null],
      ['hardware', 'json', HARDWARE],
    ],
  },
  {
    table: 'preset',
    columns: [
      ['folder', 'varchar(80)', ''],
      ['feel', 'json', '[]'],
    ],
  },
  {
    table: 'bank',
    columns: [
      ['groupId', ID, null],
      ['colour', 'varchar(16)', null],
      ['remark', 'varchar(400)', ''],
    ],
  },
  {
    table: 'assignment',
    columns: [
      ['colour', 'varchar(16)', null],
      ['remark', 'varchar(400)', ''],
      ['toe', 'json', '[]'],
      ['heel', 'json', '[]'],
      ['response', 'json', RESPONSE],
      ['lamp', 'json', null],
    ],
  },
];

/** What hardware a control has, pages of groups, folders, lamps, both ends of pedals, labels and remarks. */
export class Floor1763990000000 implements MigrationInterface {
  readonly name = 'Floor1763990000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`control_group\` (
      \`id\` ${ID} NOT NULL PRIMARY KEY, \`presetId\` ${ID} NOT NULL, \`position\` int NOT NULL,
      \`name\` varchar(80) NOT NULL, \`controlIds\` json NOT NULL,
      CONSTRAINT \`fk_control_group_presetId\` FOREIGN KEY (\`presetId\`) REFERENCES \`preset\` (\`id\`) ON DELETE CASCADE
    ) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`);
    for (const { table, columns } of ADDED) {
      const add = columns.map(([name, type, first]) =>
        first === null
          ? `ADD \`${name}\` ${type} NULL`
          : `ADD \`${name}\` ${type} NOT NULL DEFAULT '${first}'`,
      );
      await runner.query(`ALTER TABLE \`${table}\` ${add.join(', ')}`);
      const kept = columns.filter(([, , first]) => first !== null);
      await runner.query(
        `ALTER TABLE \`${table}\` ${kept.map(([name]) => `ALTER \`${name}\` DROP DEFAULT`).join(', ')}`,
      );
    }
    await runner.query('ALTER TABLE `control` MODIFY `sendsNumber` int NOT NULL');
    await runner.query(`ALTER TABLE \`bank\` ADD CONSTRAINT \`fk_bank_groupId\` FOREIGN KEY (\`groupId\`)
      REFERENCES \`control_group\` (\`id\`) ON DELETE CASCADE`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DELETE FROM `bank` WHERE `groupId` IS NOT NULL');
    await runner.query('ALTER TABLE `bank` DROP FOREIGN KEY `fk_bank_groupId`');
    for (const { table, columns } of ADDED)
      await runner.query(
        `ALTER TABLE \`${table}\` ${columns.map(([name]) => `DROP \`${name}\``).join(', ')}`,
      );
    await runner.query('DROP TABLE `control_group`');
    await runner.query('ALTER TABLE `control` MODIFY `sendsNumber` tinyint NOT NULL');
  }
}
