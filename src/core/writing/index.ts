export { type Goods, type Limits, proposeDescription, proposeTags, proposeTitle, type Written } from './aid';
export { isSmall, languageOf, stemOf, wordsIn } from './words';
