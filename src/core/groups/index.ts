export {
  circleInWords,
  circleOf,
  GROUP_LIMITS,
  type GroupOf,
  groupKey,
  groupsIn,
  Membership,
  memberTest,
  renamed,
} from './group';
export {
  type Branch,
  branch,
  branchOf,
  inserted,
  isCondition,
  measured,
  moved,
  type Path,
  partAt,
  replaced,
  TREE_LIMITS,
} from './tree';
