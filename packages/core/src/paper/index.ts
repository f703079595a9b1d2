export { chartTable, cueTables, planTable, rigTables, sentTable } from './documents';
export { labelStrips, stripPages, type LabelStrip, type StripLook } from './labelStrips';
export { orderPages, type OrderLine } from './order';
export {
  FONTS,
  MM_PER_PT,
  paperSize,
  PAPERS,
  type Font,
  type Measure,
  type PaperItem,
  type PaperName,
  type PaperPage,
} from './page';
export { pageSvg } from './svg';
export { tablePages, type PaperTable } from './table';
