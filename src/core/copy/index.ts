export { cleanHtml, escapeText, hasActiveMarkup, plainText } from './html';
export { shortenHtml } from './shorten-html';
export {
  fieldKey,
  fillTemplate,
  type ParsedTemplate,
  parseTemplate,
  TEMPLATE_LIMITS,
  type Template,
  type TemplateProblem,
} from './template';
export { calm, fold, shortenAtWord, withoutWords } from './text';
