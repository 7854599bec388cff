import { work } from '../../browser/browser';
import { startBringIn } from '../../listings/bring-in';
import { bound } from '../bound';
import { assortment, built, source } from '../memory';

/** Acts that link listings to supplier items: of a shop that is brought in, and one by one. */
export const linkingDesk = {
  findLinks: source.findLinks.bind(source),
  link: source.link.bind(source),
  setBackup: source.setBackup.bind(source),
  /** Listings that came in from a shop, with what was found for them. */
  broughtIn: async () => {
    await built();
    const proposals = new Map((await work.db.proposals.toArray()).map((p) => [p.id, p]));
    return [...assortment.all()].flatMap(([, full]) =>
      full.listing.product.startsWith('shop:') ? [{ ...full, proposal: proposals.get(full.listing.id) }] : [],
    );
  },
  startBringIn: bound(startBringIn),
};
