export {
  MESSAGES,
  type MessageFields,
  type MessageKind,
  type MessageRule,
  type Messages,
  messageText,
  ruleFor,
  usualText,
} from './messages';
export { usualQuestion } from './question';
