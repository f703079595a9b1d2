import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii COLLATE ascii_bin';
const KEPT = '`version` int NOT NULL, `savedAt` datetime(3) NOT NULL';
const TABLE_END = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

const foreign = (table: string, column: string, target: string, onDelete: string): string =>
  `CONSTRAINT \`fk_${table}_${column}\` FOREIGN KEY (\`${column}\`) REFERENCES \`${target}\` (\`id\`) ON DELETE ${onDelete}`;

const CREATE = [
  `CREATE TABLE \`rig\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`name\` varchar(80) NOT NULL, \`middleC\` tinyint NOT NULL, ${KEPT}
  ) ${TABLE_END}`,
  `CREATE TABLE \`device\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`name\` varchar(80) NOT NULL, \`description\` varchar(400) NOT NULL, \`role\` varchar(16) NOT NULL,
    \`markShape\` varchar(16) NOT NULL, \`markColour\` varchar(16) NOT NULL, \`channel\` tinyint NOT NULL,
    \`programsShownFrom\` tinyint NOT NULL, \`standIn\` varchar(32) NULL, \`away\` tinyint(1) NOT NULL,
    ${foreign('device', 'rigId', 'rig', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`port\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`deviceId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`name\` varchar(80) NOT NULL, \`direction\` varchar(8) NOT NULL, \`link\` varchar(16) NOT NULL,
    \`atComputer\` tinyint(1) NOT NULL,
    ${foreign('port', 'deviceId', 'device', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`cable\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`fromPortId\` ${ID} NOT NULL, \`toPortId\` ${ID} NOT NULL,
    ${foreign('cable', 'rigId', 'rig', 'CASCADE')},
    ${foreign('cable', 'fromPortId', 'port', 'CASCADE')},
    ${foreign('cable', 'toPortId', 'port', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`chart_function\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`deviceId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`name\` varchar(80) NOT NULL, \`drive\` json NOT NULL, \`shape\` json NOT NULL, \`channel\` tinyint NULL,
    \`arms\` varchar(80) NULL, \`settleMs\` double NOT NULL,
    ${foreign('chart_function', 'deviceId', 'device', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`board\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`deviceId\` ${ID} NOT NULL, \`presetId\` ${ID} NULL, \`widthMm\` double NOT NULL, \`heightMm\` double NOT NULL,
    \`xMm\` double NOT NULL, \`yMm\` double NOT NULL,
    ${foreign('board', 'rigId', 'rig', 'CASCADE')},
    ${foreign('board', 'deviceId', 'device', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`control\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`boardId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`name\` varchar(80) NOT NULL, \`kind\` varchar(24) NOT NULL, \`xMm\` double NOT NULL, \`yMm\` double NOT NULL,
    \`widthMm\` double NOT NULL, \`heightMm\` double NOT NULL, \`sendsKind\` varchar(16) NOT NULL,
    \`sendsNumber\` tinyint NOT NULL,
    ${foreign('control', 'boardId', 'board', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`preset\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL, \`boardId\` ${ID} NOT NULL,
    \`name\` varchar(80) NOT NULL, ${KEPT},
    ${foreign('preset', 'rigId', 'rig', 'RESTRICT')},
    ${foreign('preset', 'boardId', 'board', 'RESTRICT')}
  ) ${TABLE_END}`,
  `ALTER TABLE \`board\` ADD ${foreign('board', 'presetId', 'preset', 'SET NULL')}`,
  `CREATE TABLE \`bank\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`presetId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`name\` varchar(80) NOT NULL,
    ${foreign('bank', 'presetId', 'preset', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`assignment\` (
    \`bankId\` ${ID} NOT NULL, \`controlId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`label\` varchar(40) NOT NULL, \`press\` json NOT NULL, \`release\` json NOT NULL, \`sweeps\` json NOT NULL,
    PRIMARY KEY (\`bankId\`, \`controlId\`),
    ${foreign('assignment', 'bankId', 'bank', 'CASCADE')},
    ${foreign('assignment', 'controlId', 'control', 'RESTRICT')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`song\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL, \`name\` varchar(80) NOT NULL,
    \`tempoBpm\` double NOT NULL, \`beatsPerBar\` tinyint NOT NULL, \`lengthS\` double NOT NULL, ${KEPT},
    ${foreign('song', 'rigId', 'rig', 'RESTRICT')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`scene\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`songId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`name\` varchar(80) NOT NULL,
    ${foreign('scene', 'songId', 'song', 'CASCADE')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`scene_value\` (
    \`sceneId\` ${ID} NOT NULL, \`functionId\` ${ID} NOT NULL, \`position\` int NOT NULL, \`value\` int NOT NULL,
    PRIMARY KEY (\`sceneId\`, \`functionId\`),
    ${foreign('scene_value', 'sceneId', 'scene', 'CASCADE')},
    ${foreign('scene_value', 'functionId', 'chart_function', 'RESTRICT')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`setlist\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`rigId\` ${ID} NOT NULL, \`name\` varchar(80) NOT NULL, ${KEPT},
    ${foreign('setlist', 'rigId', 'rig', 'RESTRICT')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`set_entry\` (
    \`id\` ${ID} NOT NULL PRIMARY KEY, \`setlistId\` ${ID} NOT NULL, \`position\` int NOT NULL,
    \`kind\` varchar(8) NOT NULL, \`songId\` ${ID} NULL, \`name\` varchar(80) NULL, \`lengthS\` double NULL,
    ${foreign('set_entry', 'setlistId', 'setlist', 'CASCADE')},
    ${foreign('set_entry', 'songId', 'song', 'RESTRICT')}
  ) ${TABLE_END}`,
  `CREATE TABLE \`revision\` (
    \`resource\` varchar(16) NOT NULL, \`documentId\` ${ID} NOT NULL, \`version\` int NOT NULL,
    \`savedAt\` datetime(3) NOT NULL, \`doc\` json NOT NULL,
    PRIMARY KEY (\`resource\`, \`documentId\`, \`version\`)
  ) ${TABLE_END}`,
];

const TABLES = [
  'revision',
  'set_entry',
  'setlist',
  'scene_value',
  'scene',
  'song',
  'assignment',
  'bank',
  'preset',
  'control',
  'board',
  'chart_function',
  'cable',
  'port',
  'device',
  'rig',
];

/** The first tables. Things that refer to each other are rows with foreign keys; JSON holds private leaves only. */
export class Schema1763900000000 implements MigrationInterface {
  readonly name = 'Schema1763900000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of CREATE) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `board` DROP FOREIGN KEY `fk_board_presetId`');
    for (const table of TABLES) await runner.query(`DROP TABLE \`${table}\``);
  }
}
