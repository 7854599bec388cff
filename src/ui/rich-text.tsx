'use client';
import { TableKit } from '@tiptap/extension-table';
import { EditorContent, useEditor, useEditorState } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { Bold, Heading3, Italic, List, ListOrdered, type LucideIcon, Redo2, Undo2 } from 'lucide-react';
import { useEffect } from 'react';
import { cleanHtml } from '../core/copy';

/**
 * A description edited as formatted text: only what marketplaces take, as {@link cleanHtml} leaves it. What is pasted loses
 * the rest. Committed when the editor is left.
 */
export function RichText({
  label,
  html,
  onCommit,
}: {
  label: string;
  html: string;
  onCommit: (html: string) => void;
}) {
  const editor = useEditor({
    // The server has no document to draw into.
    immediatelyRender: false,
    injectCSS: false,
    extensions: [
      StarterKit.configure({
        heading: { levels: [3, 4] },
        blockquote: false,
        code: false,
        codeBlock: false,
        horizontalRule: false,
        strike: false,
        underline: false,
        link: false,
      }),
      TableKit.configure({ table: { resizable: false } }),
    ],
    content: html,
    onBlur: ({ editor: left }) => {
      const text = written(left.getHTML());
      if (text !== written(html)) onCommit(text);
    },
    editorProps: {
      attributes: {
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': label,
        class:
          'min-h-24 max-h-80 overflow-auto px-2 py-1.5 text-[13.5px] whitespace-pre-wrap outline-none space-y-1.5 [&_li]:ml-4 [&_ul_li]:list-disc [&_ol_li]:list-decimal [&_h3]:font-semibold [&_h4]:font-semibold [&_td]:border [&_td]:border-rule [&_td]:px-1',
      },
      transformPastedHTML: cleanHtml,
    },
  });
  useEffect(() => {
    if (editor && !editor.isFocused && written(editor.getHTML()) !== html) editor.commands.setContent(html);
  }, [editor, html]);
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now?.isActive('bold') ?? false,
      italic: now?.isActive('italic') ?? false,
      heading: now?.isActive('heading') ?? false,
      bullets: now?.isActive('bulletList') ?? false,
      numbers: now?.isActive('orderedList') ?? false,
    }),
  });
  if (!editor) return null;
  const tool = (Icon: LucideIcon, name: string, pressed: boolean | undefined, act: () => void) => (
    <button
      key={name}
      type="button"
      aria-label={name}
      title={name}
      aria-pressed={pressed}
      onMouseDown={(e) => e.preventDefault()}
      onClick={act}
      className="rounded-sm p-1 text-muted hover:text-ink aria-pressed:bg-river-soft aria-pressed:text-ink"
    >
      <Icon aria-hidden size={14} />
    </button>
  );
  const chain = () => editor.chain().focus();
  return (
    <div className="rounded-sm border border-edge bg-surface focus-within:border-river">
      <div
        role="toolbar"
        aria-label={`Format of ${label}`}
        className="flex gap-0.5 border-b border-rule-soft px-1"
      >
        {tool(Bold, 'Bold', on?.bold, () => chain().toggleBold().run())}
        {tool(Italic, 'Italic', on?.italic, () => chain().toggleItalic().run())}
        {tool(Heading3, 'Heading', on?.heading, () => chain().toggleHeading({ level: 3 }).run())}
        {tool(List, 'Bulleted list', on?.bullets, () => chain().toggleBulletList().run())}
        {tool(ListOrdered, 'Numbered list', on?.numbers, () => chain().toggleOrderedList().run())}
        <span className="grow" />
        {tool(Undo2, 'Undo typing', undefined, () => chain().undo().run())}
        {tool(Redo2, 'Redo typing', undefined, () => chain().redo().run())}
      </div>
      <EditorContent editor={editor} />
    </div>
  );
}

/** What the editor holds as a description is stored: nothing where there is nothing to read. */
const written = (html: string): string => {
  const clean = cleanHtml(html).replace(/<li><p>(.*?)<\/p><\/li>/g, '<li>$1</li>');
  return /[^\s<>]/.test(clean.replace(/<[^>]*>/g, '')) ? clean : '';
};
