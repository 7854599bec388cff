import type { Scene } from '../../core/print';

let known: Promise<readonly Scene[]> | null = null;

async function fetched<T>(path: string): Promise<T> {
  const answer = await fetch(path);
  if (!answer.ok) throw new Error(`The scenes could not be loaded: ${answer.status}.`);
  return (await answer.json()) as T;
}

/** The scenes that ship with Sampan, loaded once. */
export function shippedScenes(): Promise<readonly Scene[]> {
  known ??= fetched<string[]>('/scenes/index.json').then((names) =>
    Promise.all(names.map((name) => fetched<Scene>(`/scenes/${name}.json`))),
  );
  known.catch(() => {
    known = null;
  });
  return known;
}
