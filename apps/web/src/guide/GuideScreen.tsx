import { useEffect, type JSX } from 'react';
import { Link, useLocation } from 'react-router';
import { GLOSSARY, termId } from '@yield/words';
import { useTitle } from '../ui/useTitle.ts';
import { INTRODUCTION, SECTIONS } from './sections.ts';

const GLOSSARY_ID = 'glossary';
const CHAPTERS = [...SECTIONS, { id: GLOSSARY_ID, title: 'Glossary' }];

/** The guide, with its chapters beside it; a step opens it at its stage. */
export default function GuideScreen(): JSX.Element {
  const { hash } = useLocation();
  useTitle('Guide');
  useEffect(() => {
    // The chapter comes with the screen: there is nothing to jump to before it is drawn.
    document.getElementById(hash.slice(1))?.scrollIntoView();
  }, [hash]);
  return (
    <main className="mx-auto grid w-full max-w-6xl gap-x-10 px-6 py-8 lg:grid-cols-[13rem_minmax(0,1fr)]">
      <nav aria-label="Chapters" className="lg:sticky lg:top-20 lg:max-h-[calc(100dvh-6rem)] lg:self-start lg:overflow-y-auto">
        <ul className="max-lg:mb-6 max-lg:flex max-lg:flex-wrap max-lg:gap-x-4">
          {CHAPTERS.map(({ id, title }) => (
            <li key={id}>
              <Link
                to={`#${id}`}
                className={`flex min-h-11 items-center leading-tight hover:underline lg:min-h-9 ${hash === `#${id}` ? 'text-action font-semibold' : ''}`}
              >
                {title}
              </Link>
            </li>
          ))}
        </ul>
      </nav>
      <article className="guide min-w-0">
        <h1 className="text-3xl">Guide</h1>
        <div dangerouslySetInnerHTML={{ __html: INTRODUCTION }} />
        {SECTIONS.map(({ id, title, html }) => (
          <section key={id} aria-labelledby={id}>
            <h2 id={id} className="scroll-mt-20">
              {title}
            </h2>
            <div dangerouslySetInnerHTML={{ __html: html }} />
          </section>
        ))}
        <section aria-labelledby={GLOSSARY_ID}>
          <h2 id={GLOSSARY_ID} className="scroll-mt-20">
            Glossary
          </h2>
          <dl className="border-line divide-line max-w-3xl divide-y border-y">
            {GLOSSARY.map(({ term, meaning }) => (
              <div key={term} id={termId(term)} className="grid scroll-mt-20 gap-x-6 py-2 sm:grid-cols-[11rem_minmax(0,1fr)]">
                <dt className="font-semibold">{term}</dt>
                <dd>{meaning}</dd>
              </div>
            ))}
          </dl>
        </section>
      </article>
    </main>
  );
}
