'use client';
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import type { ReactNode } from 'react';

interface Props<Id extends string> {
  readonly label: string;
  readonly tabs: readonly { readonly id: Id; readonly name: ReactNode }[];
  readonly chosen: Id;
  readonly onChoose: (id: Id) => void;
  /** Of the row of tabs. */
  readonly className: string;
  /** Of the panel below. */
  readonly panelClass?: string;
  /** The panel of the chosen tab. */
  readonly children: ReactNode;
}

/** Tabs over one panel: arrow keys, Home and End choose, as WAI-ARIA has it. */
export function Tabs<Id extends string>({
  label,
  tabs,
  chosen,
  onChoose,
  className,
  panelClass,
  children,
}: Props<Id>) {
  return (
    <TabGroup
      className="contents"
      selectedIndex={tabs.findIndex((tab) => tab.id === chosen)}
      onChange={(at) => onChoose(tabs[at]!.id)}
    >
      <TabList aria-label={label} className={`flex flex-wrap gap-1 ${className}`}>
        {tabs.map(({ id, name }) => (
          <Tab
            key={id}
            className="rounded-sm border border-edge px-2 py-0.5 text-left text-[13px] data-selected:border-river data-selected:bg-river-soft data-selected:font-semibold"
          >
            {name}
          </Tab>
        ))}
      </TabList>
      <TabPanels className="contents">
        {tabs.map(({ id }) => (
          <TabPanel key={id} className={panelClass}>
            {id === chosen && children}
          </TabPanel>
        ))}
      </TabPanels>
    </TabGroup>
  );
}
