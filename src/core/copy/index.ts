export { cleanHtml, hasActiveMarkup, plainText } from './html';
export { fold, shortenAtWord } from './text';
