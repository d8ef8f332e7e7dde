import { SaxesParser } from 'saxes';

/** An element with what is in it. */
export interface XmlElement {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly XmlElement[];
  readonly text: string;
}

interface Growing {
  readonly name: string;
  readonly attributes: Record<string, string>;
  readonly children: Growing[];
  text: string;
}

/** Reads well-formed XML. @throws Error for what is not. */
export function readXml(text: string): XmlElement {
  const root: Growing = { name: '', attributes: {}, children: [], text: '' };
  const open = [root];
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ name, attributes }) => {
    const element: Growing = { name, attributes: { ...attributes }, children: [], text: '' };
    open.at(-1)!.children.push(element);
    open.push(element);
  });
  parser.on('text', (piece) => {
    open.at(-1)!.text += piece;
  });
  parser.on('closetag', () => {
    open.pop();
  });
  parser.write(text).close();
  return root.children[0]!;
}
