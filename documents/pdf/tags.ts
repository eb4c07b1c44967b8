import type { PDFArray } from 'pdf-lib';
import {
  PDFDict,
  PDFHexString,
  PDFName,
  PDFNumber,
  PDFOperator,
  PDFOperatorNames,
  type PDFDocument,
  type PDFPage,
  type PDFRef,
} from 'pdf-lib';

/** What a part of a page is. Source: ISO 32000-1, 14.8.4 (standard structure types). */
export type Tag = 'Document' | 'H1' | 'H2' | 'P' | 'Table' | 'TR' | 'TH' | 'TD' | 'Caption' | 'Figure';

/** A part of the paper's structure. */
export interface Element {
  readonly ref: PDFRef;
  readonly dict: PDFDict;
  readonly kids: PDFArray;
}

/** The structure of a paper, so that it can be read aloud and in order. Source: ISO 32000-1, 14.7. */
export class Tags {
  private readonly root: Element;
  private readonly rootRef: PDFRef;
  /** Of each page the elements of its marked content, by number. */
  private readonly pages = new Map<PDFPage, PDFArray>();

  constructor(private readonly document: PDFDocument) {
    const { context } = document;
    this.rootRef = context.nextRef();
    this.root = this.element('Document', this.rootRef);
    const tree = context.obj({ Type: 'StructTreeRoot', K: [this.root.ref] });
    context.assign(this.rootRef, tree);
    document.catalog.set(PDFName.of('StructTreeRoot'), this.rootRef);
    document.catalog.set(PDFName.of('MarkInfo'), context.obj({ Marked: true }));
  }

  private element(tag: Tag, parent: PDFRef): Element {
    const { context } = this.document;
    const kids = context.obj([]) as PDFArray;
    const dict = context.obj({ Type: 'StructElem', S: tag, P: parent }) as PDFDict;
    dict.set(PDFName.of('K'), kids);
    return { ref: context.register(dict), dict, kids };
  }

  /** A part of another, or of the paper itself. */
  add(tag: Tag, within: Element = this.root): Element {
    const made = this.element(tag, within.ref);
    within.kids.push(made.ref);
    return made;
  }

  /** Says what a picture shows. */
  describe({ dict }: Element, text: string): void {
    dict.set(PDFName.of('Alt'), PDFHexString.fromText(text));
  }

  /** A field that heads its column or row. */
  heads({ dict }: Element, scope: 'Column' | 'Row'): void {
    dict.set(PDFName.of('A'), this.document.context.obj({ O: 'Table', Scope: scope }));
  }

  /** Draws what belongs to an element; `null`: it is there for the eye alone. */
  draw(page: PDFPage, element: Element | null, draw: () => void): void {
    const { context } = this.document;
    if (!element) {
      page.pushOperators(PDFOperator.of(PDFOperatorNames.BeginMarkedContent, [PDFName.of('Artifact')]));
    } else {
      const marks = this.pages.get(page) ?? (context.obj([]) as PDFArray);
      this.pages.set(page, marks);
      const id = marks.size();
      marks.push(element.ref);
      element.kids.push(context.obj({ Type: 'MCR', Pg: page.ref, MCID: id }));
      const tag = element.dict.get(PDFName.of('S')) as PDFName;
      page.pushOperators(
        PDFOperator.of(PDFOperatorNames.BeginMarkedContentSequence, [tag, `<</MCID ${id}>>`]),
      );
    }
    draw();
    page.pushOperators(PDFOperator.of(PDFOperatorNames.EndMarkedContent));
  }

  /** Writes where each mark belongs; nothing is added afterwards. */
  finish(): void {
    const { context } = this.document;
    const numbers = context.obj([]) as PDFArray;
    let next = 0;
    for (const [page, marks] of this.pages) {
      page.node.set(PDFName.of('StructParents'), PDFNumber.of(next));
      page.node.set(PDFName.of('Tabs'), PDFName.of('S'));
      numbers.push(PDFNumber.of(next++));
      numbers.push(context.register(marks));
    }
    const tree = context.lookup(this.rootRef, PDFDict);
    tree.set(PDFName.of('ParentTree'), context.obj({ Nums: numbers }));
    tree.set(PDFName.of('ParentTreeNextKey'), PDFNumber.of(next));
  }
}
