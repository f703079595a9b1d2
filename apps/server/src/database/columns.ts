import { Column, PrimaryColumn } from 'typeorm';

/** Identifier columns: 36 ASCII characters, compared byte by byte. */
const ID = { type: 'char', length: 36, charset: 'ascii', collation: 'ascii_bin' } as const;

export const IdColumn = () => PrimaryColumn(ID);
export const ReferenceColumn = () => Column(ID);
export const OptionalReferenceColumn = () => Column({ ...ID, nullable: true });
export const TextColumn = (length = 80) => Column({ type: 'varchar', length });
export const OptionalTextColumn = (length = 80) => Column({ type: 'varchar', length, nullable: true });
export const NumberColumn = () => Column({ type: 'double' });
export const OptionalNumberColumn = () => Column({ type: 'double', nullable: true });
export const WholeColumn = () => Column({ type: 'int' });
export const SmallColumn = () => Column({ type: 'tinyint' });
export const OptionalWholeColumn = () => Column({ type: 'int', nullable: true });
export const OptionalSmallColumn = () => Column({ type: 'tinyint', nullable: true });
export const FlagColumn = () => Column({ type: 'boolean' });
export const JsonColumn = () => Column({ type: 'json' });
export const OptionalJsonColumn = () => Column({ type: 'json', nullable: true });
export const OptionalTimeColumn = () => Column({ type: 'datetime', precision: 3, nullable: true });
export const TimeColumn = () => Column({ type: 'datetime', precision: 3 });
