import { marked } from 'marked';
import text from '../../../../docs/guide.md?raw';

/** One chapter of the guide. */
export interface GuideSection {
  id: string;
  title: string;
  /** ready for the page; the guide is ours, nothing of it is typed by anybody */
  html: string;
  /** without marks, for the search */
  plain: string;
}

export const slug = (title: string): string =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');

/** The guide, chapter by chapter. */
export const SECTIONS: readonly GuideSection[] = text
  .split(/^## /m)
  .slice(1)
  .map((part) => {
    const [title = '', ...lines] = part.split('\n');
    // Beside the guide on a disk, not in the application: the words stay, the link goes.
    const markdown = lines.join('\n').replace(/\[([^\]]+)\]\((?!https?:)[^)]*\.md\)/g, '$1');
    return {
      id: slug(title),
      title,
      html: marked.parse(markdown, { async: false }),
      plain: markdown.replace(/[*_`|#>]/g, ' ').replace(/\s+/g, ' '),
    };
  });

export const INTRODUCTION = marked.parse(text.split(/^## /m)[0]!.replace(/^# .*$/m, ''), { async: false });
