import type { GroupUse } from '../../work/groups/uses';

const IS: Readonly<Record<GroupUse['is'], string>> = {
  plan: 'price plan',
  preset: 'preset',
  'kept off': 'not sold on',
  feed: 'feed',
  group: 'group',
};

/** `preset Everyday on Loomhall` */
export const goesByInWords = ({ is, name, on }: GroupUse): string =>
  `${IS[is]} ${name}${on && on !== name ? ` on ${on}` : ''}`;
