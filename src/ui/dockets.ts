'use client';
import { later } from './later';

/** What more than one view opens on demand: its dockets, and the grid. */
export const CategoriesDocket = later(() => import('./categories-docket').then((m) => m.CategoriesDocket));
export const CopyDocket = later(() => import('./copy-docket').then((m) => m.CopyDocket));
export const EditDocket = later(() => import('./edit-docket').then((m) => m.EditDocket));
export const EditsFileDocket = later(() => import('./edits-file-docket').then((m) => m.EditsFileDocket));
export const PresetsDocket = later(() => import('./presets-docket').then((m) => m.PresetsDocket));
export const GridList = later(() => import('./grid/grid-list').then((m) => m.GridList));
