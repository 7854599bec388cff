export {
  type AttributeChoice,
  attributeInWords,
  attributeProblems,
  attributesIn,
  choiceFor,
  readAttribute,
  type SiteAttribute,
} from './attribute';
export { type CategoryTable, categoryFor, guessCategory } from './category';
export { type Draft, type Missing, missingFor } from './draft';
export { isShouted, type Mend, mendsFor } from './mend';
export {
  fittedPicture,
  type OwnPicture,
  ownPicture,
  ownPictureName,
  type PictureRules,
  pictureProblems,
} from './picture';
export { type Site, type SiteCategory, type SiteLimits, USUAL_LIMITS } from './site';
export { siteChangesInWords } from './site-changes';
