/** What of the package is used here; it has no types of its own. */
declare module 'pdfkit' {
  interface PageOptions {
    readonly size?: readonly [number, number];
    readonly margin?: number;
  }
  export class PDFDocument {
    constructor(
      options: PageOptions & {
        readonly autoFirstPage?: boolean;
        readonly compress?: boolean;
        readonly font?: unknown;
        readonly info?: Readonly<Record<string, unknown>>;
      },
    );
    addPage(options: PageOptions): this;
    save(): this;
    restore(): this;
    translate(x: number, y: number): this;
    scale(factor: number): this;
    lineWidth(width: number): this;
    dash(length: number, options?: { readonly space: number }): this;
    undash(): this;
    strokeColor(colour: string): this;
    fillColor(colour: string): this;
    moveTo(x: number, y: number): this;
    bezierCurveTo(...points: readonly [number, number, number, number, number, number]): this;
    lineTo(x: number, y: number): this;
    rect(x: number, y: number, width: number, height: number): this;
    circle(x: number, y: number, radius: number): this;
    closePath(): this;
    clip(): this;
    stroke(): this;
    fontSize(size: number): this;
    text(text: string, x: number, y: number, options?: { readonly lineBreak?: boolean }): this;
    end(): void;
  }
  export const registerStdFonts: ((...fonts: readonly unknown[]) => void) | undefined;
}
declare module 'pdfkit/output' {
  export function toBytes(document: unknown): Promise<Uint8Array>;
}
declare module 'pdfkit/standard-fonts/Helvetica' {
  const font: unknown;
  export default font;
}
