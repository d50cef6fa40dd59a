'use client';
import createCache, { type EmotionCache } from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { useServerInsertedHTML } from 'next/navigation';
import { useState, type ReactNode } from 'react';

/**
 * Sends the styles of what the server renders ahead of it. Left to itself, Emotion writes each between the elements that
 * it is for, where a page that becomes alive before all of it has arrived finds elements that it knows nothing of, and is
 * drawn anew.
 */
export function Styles({ children }: { children: ReactNode }) {
  const [{ cache, takeNew }] = useState(collectingCache);
  useServerInsertedHTML(() => {
    const styles = takeNew();
    const ofElements = styles.filter(({ isGlobal }) => !isGlobal);
    return (
      <>
        {styles.filter(({ isGlobal }) => isGlobal).map(({ name, css }) => styleTag(`${cache.key}-global ${name}`, css))}
        {ofElements.length > 0 &&
          styleTag(
            [cache.key, ...ofElements.map(({ name }) => name)].join(' '),
            ofElements.map(({ css }) => css).join(''),
          )}
      </>
    );
  });
  return <CacheProvider value={cache}>{children}</CacheProvider>;
}

/** @param names by which the browser's cache knows what is there already */
function styleTag(names: string, css: string) {
  return <style key={names} data-emotion={names} dangerouslySetInnerHTML={{ __html: css }} />;
}

interface Style {
  name: string;
  isGlobal: boolean;
  css: string;
}

/** A cache that knows which styles have come since it was asked last. */
function collectingCache(): { cache: EmotionCache; takeNew: () => Style[] } {
  const cache = createCache({ key: 'css' });
  // Keeps rules for whoever sends them, instead of having each element send its own.
  cache.compat = true;
  let added: Pick<Style, 'name' | 'isGlobal'>[] = [];
  const insert = cache.insert.bind(cache);
  cache.insert = (selector, serialized, ...others) => {
    const { name } = serialized;
    if (cache.inserted[name] === undefined) added.push({ name, isGlobal: selector === '' });
    return insert(selector, serialized, ...others);
  };
  return {
    cache,
    takeNew: () => {
      const taken = added;
      added = [];
      return taken.flatMap((style) => {
        const css = cache.inserted[style.name];
        return typeof css === 'string' ? [{ ...style, css }] : [];
      });
    },
  };
}
