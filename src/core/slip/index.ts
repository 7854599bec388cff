export { lettersLacking, type Slip, type SlipFacts, slipOf } from './slip';
export { languageOf, type SlipWords, wordsIn } from './words';
