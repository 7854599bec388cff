export { guessCategory } from './category';
export { type Draft, type Missing, missingFor } from './draft';
export type { Site, SiteCategory } from './site';
export { siteChangesInWords } from './site-changes';
