/** Rows of a table, the headings first. */
export type Rows = readonly (readonly string[])[];

// The libraries are large, and the demo, which is written with them, is loaded once: they wait until they are needed.

/** A .docx with paragraphs, and a table, a header or a comment where asked for. */
export async function docxFile(content: {
  paragraphs: readonly string[];
  table?: Rows;
  header?: string;
  comment?: string;
}): Promise<Buffer> {
  const { Document, Header, Packer, Paragraph, Table, TableCell, TableRow, TextRun } = await import('docx');
  const table = content.table?.length
    ? [
        new Table({
          rows: content.table.map(
            (row) =>
              new TableRow({
                children: row.map((cell) => new TableCell({ children: [new Paragraph(cell)] })),
              }),
          ),
        }),
      ]
    : [];
  const comments = content.comment
    ? {
        children: [
          { id: 0, author: 'A', children: [new Paragraph({ children: [new TextRun(content.comment)] })] },
        ],
      }
    : undefined;
  const headers = content.header
    ? { default: new Header({ children: [new Paragraph(content.header)] }) }
    : undefined;
  const document = new Document({
    ...(comments ? { comments } : {}),
    sections: [
      {
        ...(headers ? { headers } : {}),
        children: [...content.paragraphs.map((text) => new Paragraph(text)), ...table],
      },
    ],
  });
  return Buffer.from(await Packer.toBuffer(document));
}

/** An .xlsx with one sheet. */
export async function xlsxFile(sheet: string, rows: Rows): Promise<Buffer> {
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  const page = book.addWorksheet(sheet);
  for (const row of rows) page.addRow([...row]);
  return Buffer.from(await book.xlsx.writeBuffer());
}

/** What a mail is made of; the fields of an internet message. */
export interface MailFields {
  readonly from: string;
  readonly to: readonly string[];
  readonly subject: string;
  readonly text?: string;
  readonly html?: string;
  readonly attachments?: readonly {
    readonly filename: string;
    readonly content: Buffer;
    readonly contentType?: string;
  }[];
}

/** An .eml as a mail client writes it. */
export async function emlFile(fields: MailFields): Promise<Buffer> {
  const { default: MailComposer } = await import('nodemailer/lib/mail-composer/index.js');
  const composer = new MailComposer({
    ...fields,
    to: [...fields.to],
    attachments: [...(fields.attachments ?? [])],
  });
  return composer.compile().build();
}
