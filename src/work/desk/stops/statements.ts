import { work } from '../../browser/browser';
import { cashOf } from '../../statements/cash';
import { costsOf, keepCost, removeCost } from '../../statements/costs';
import { lookAtStatement, setTakenUnder, takeStatementFile } from '../../statements/file';
import { differingIn, statementInFull, statementsIn } from '../../statements/list';
import {
  askAgain,
  type Decision,
  decideAbsent,
  decideDifferences,
  noteStatementPaid,
  settleLoose,
  takeStatementOut,
} from '../../statements/settle';
import { bound } from '../bound';
import { book, builtBook, changing, OF_LISTS, OFTEN, SOON } from '../memory';

/** Questions and acts of account statements. */
export const statementsDesk = {
  statements: async () => {
    await builtBook();
    return statementsIn(book);
  },
  statementInFull: async (id: string) => {
    await builtBook();
    return statementInFull(book, id);
  },
  /** What is with marketplaces and suppliers, and what is expected of the next 30 days. */
  cash: async () => {
    await builtBook();
    return cashOf(book);
  },
  costsOf: bound(costsOf),
  keepCost: bound(keepCost),
  removeCost: bound(removeCost),
  lookAtStatement: bound(lookAtStatement),
  takeStatementFile: bound(takeStatementFile),
  setTakenUnder: bound(setTakenUnder),
  decideDifferences: bound(decideDifferences),
  /** All that differs by a statement is decided in one way. */
  decideStatement: async (id: string, decision: Decision) => {
    await builtBook();
    return decideDifferences(work, differingIn(book, id), decision);
  },
  decideAbsent: bound(decideAbsent),
  askAgain: bound(askAgain),
  settleLoose: bound(settleLoose),
  noteStatementPaid: bound(noteStatementPaid),
  takeStatementOut: bound(takeStatementOut),
};

let version = 0;

export const statementsFeeds = {
  statementsVersion: changing(
    [...OF_LISTS, 'statements', 'costs'],
    { calm: SOON, often: OFTEN },
    async () => {
      await builtBook();
      await book.catchUp();
      return ++version;
    },
  ),
};
