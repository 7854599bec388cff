export { type ForwardingRule, type Going, goesAt, goingInWords } from './going';
export {
  ALWAYS_HOLD,
  type CheckRule,
  NEAR_PRINT,
  type OrderRules,
  type ServiceRule,
  USUAL_RULES,
  type Watched,
  type Weight,
  weightOf,
} from './rules';
