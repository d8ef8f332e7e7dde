import { IsNumber, IsString, Length, Max, Min } from 'class-validator';

/** A sheet that lies ready for the scanner. */
export interface SheetView {
  readonly id: string;
  readonly name: string;
}

/** The scanner that is connected; none has no sheets. */
export interface ScannerView {
  readonly name: string;
  readonly sheets: readonly SheetView[];
}

export class ScanDto {
  @IsString()
  @Length(1, 100)
  sheetId: string;

  /** How the sheet is laid on the glass, in degrees clockwise. */
  @IsNumber()
  @Min(-5)
  @Max(5)
  skewDegrees: number;
}
