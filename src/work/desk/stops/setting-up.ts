import type { Preset } from '../../../store';
import { categoriesOf, saveCategories } from '../../editing/categories';
import { PresetWeighing, savePresets, type WeighedPreset } from '../../editing/presets';
import {
  dropTemplate,
  saveTemplate,
  type TemplateDraft,
  TemplateWeighing,
  templatesInUse,
  triedOn,
} from '../../editing/templates';
import { marketOf } from '../../quoting/worth';
import { bound } from '../bound';
import { AT_ONCE, assortment, built, meantBy, rest, type Where } from '../memory';

/** How often a draft of a template or a preset was weighed. */
let weighing = 0;

/** Copy templates, presets and categories of listings. */
export const settingUpDesk = {
  /** Templates with how many listings each is used for. */
  templates: async () => {
    await built();
    await assortment.catchUp();
    return templatesInUse(assortment);
  },
  /** Fills a draft in for the listings it is for; null where another one was asked for meanwhile. */
  weighTemplate: async (
    id: string | null,
    draft: TemplateDraft,
    where: Where,
    most = Number.POSITIVE_INFINITY,
  ) => {
    await built();
    const own = ++weighing;
    const weighed = new TemplateWeighing(assortment, draft);
    for (const full of triedOn(assortment, id, new Set(meantBy(where)))) {
      weighed.add(full);
      if (weighed.listings >= most) break;
      // Others are heard in between: the next key wants its samples at once.
      if (weighed.listings % AT_ONCE === 0) await rest();
      if (own !== weighing) return null;
    }
    return weighed.weighed();
  },
  /** The suppliers' categories of what is listed on a marketplace. */
  categories: async (market: string) => {
    await built();
    await assortment.catchUp();
    return categoriesOf(assortment, market);
  },
  /** The preview of a preset; null where another one was asked for meanwhile. */
  weighPreset: async (market: string, draft: Preset): Promise<WeighedPreset | null> => {
    await built();
    await assortment.catchUp();
    const own = ++weighing;
    const at = marketOf(assortment.shop, market);
    if (!at) return null;
    const weighed = new PresetWeighing(at, draft, assortment.shop);
    let gone = 0;
    for (const [, full] of assortment.all()) {
      weighed.add(full);
      if (++gone % AT_ONCE === 0) await rest();
      if (own !== weighing) return null;
    }
    return weighed.weighed();
  },
  saveTemplate: bound(saveTemplate),
  dropTemplate: bound(dropTemplate),
  saveCategories: bound(saveCategories),
  savePresets: bound(savePresets),
};
