import type { EffortEstimate, Forecast, PageMeasures, WorkCalendar } from '@jumble/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsNumber,
  IsObject,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { IfGiven, IsLine } from './texts.ts';

/** Stages that time is counted on. */
export const TIME_STAGES = ['lineart', 'gaps', 'flats', 'trap', 'holds', 'check', 'handoff'] as const;
export type TimeStage = (typeof TIME_STAGES)[number];

const DAY = /^\d{4}-\d\d-\d\d$/;
export class RateDto {
  @IsIn(['page', 'hour', 'panel'])
  per: 'page' | 'hour' | 'panel';

  @IsNumber()
  @Min(0)
  @Max(100_000)
  amount: number;

  @IsLine(8)
  currency: string;
}

export class CalendarDto {
  @IsArray()
  @ArrayMaxSize(7)
  @ArrayUnique()
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(6, { each: true })
  weekdays: number[];

  @IsNumber()
  @Min(0)
  @Max(24)
  hoursADay: number;

  @IsArray()
  @ArrayMaxSize(400)
  @IsISO8601({ strict: true }, { each: true })
  @Length(10, 10, { each: true })
  daysOff: string[];
}

export class UpdateJobPlanDto {
  @IfGiven()
  @IsLine(120)
  series?: string;

  @IfGiven()
  @IsLine(120)
  client?: string;

  @IfGiven()
  @ValidateIf((plan: UpdateJobPlanDto) => plan.rate !== null)
  @IsObject()
  @ValidateNested()
  @Type(() => RateDto)
  rate?: RateDto | null;

  @IfGiven()
  @IsObject()
  @ValidateNested()
  @Type(() => CalendarDto)
  calendar?: CalendarDto;
}

/** What is planned for several pages at once; what is left out stays. */
export class UpdatePagePlansDto {
  @IsArray()
  @ArrayMaxSize(2000)
  @ArrayUnique()
  @IsString({ each: true })
  pageIds: string[];

  @IfGiven()
  @IsLine(12)
  bookNumber?: string;

  @IfGiven()
  @IsBoolean()
  isSpread?: boolean;

  @IfGiven()
  @ValidateIf((plan: UpdatePagePlansDto) => plan.dueOn !== null)
  @IsISO8601({ strict: true })
  @Length(10, 10)
  dueOn?: string | null;

  @IfGiven()
  @IsLine(60)
  person?: string;

  @IfGiven()
  @IsLine(300)
  agreed?: string;
}

/** Time that was worked just now. */
export class AddTimeDto {
  @IsLine(60)
  @Length(1, 60)
  person: string;

  @IsIn(TIME_STAGES)
  stage: TimeStage;

  /** Of the browser, in ms since 1970. */
  @IsInt()
  @Min(0)
  fromMs: number;

  @IsInt()
  @Min(0)
  toMs: number;

  /** The day it counts for, where the person is. */
  @Matches(DAY)
  day: string;
}

/** A correction of time by hand. */
export class CorrectTimeDto {
  @IsLine(60)
  @Length(1, 60)
  person: string;

  @IsIn(TIME_STAGES)
  stage: TimeStage;

  @Matches(DAY)
  day: string;

  /** What is added, or taken off. */
  @IsInt()
  @Min(-1440)
  @Max(1440)
  minutes: number;

  @IsLine(200)
  note: string;
}

/** An entry that somebody writes down: what was agreed on the telephone. */
export class AddLogEntryDto {
  @IsLine(300)
  @Length(1, 300)
  what: string;

  @IfGiven()
  @IsLine(500)
  why?: string;

  /** Page it is about. @default the whole job */
  @IfGiven()
  @IsString()
  @Length(1, 64)
  pageId?: string;

  /** When it was; not yet to come. @default now */
  @IfGiven()
  @IsISO8601({ strict: true })
  at?: string;
}

export class LogNoteDto {
  @IsLine(500)
  why: string;
}

/** What is known of a page as it was drawn last. */
export interface PageFacts extends PageMeasures {
  readonly openGaps: number;
  /** Unknown of pages that were drawn before these were counted. */
  readonly trapFaults?: number;
  readonly faintLines?: number;
  readonly isCertified: boolean;
}

export interface PagePlan {
  readonly id: string;
  readonly name: string;
  readonly position: number;
  readonly thumbnailHash: string | null;
  readonly bookNumber: string | null;
  readonly isSpread: boolean;
  readonly dueOn: string | null;
  readonly person: string | null;
  readonly agreed: string | null;
  readonly regionCount: number;
  readonly filledCount: number;
  /** Null while it is drawn for the first time. */
  readonly facts: PageFacts | null;
  /** Whether it went out as it is now, or as it was before; null for never. */
  readonly handedOff: 'now' | 'before' | null;
  /** Seconds that were worked on it, by stage; corrections by hand are among them. */
  readonly seconds: Readonly<Partial<Record<TimeStage, number>>>;
  readonly estimate: EffortEstimate | null;
  /** What is left to do, in minutes; null once it went out as it is, and while nobody knows. */
  readonly left: { readonly minutes: number; readonly deviation: number } | null;
}

export interface JobPlan {
  readonly id: string;
  readonly name: string;
  readonly series: string | null;
  readonly client: string | null;
  readonly dueOn: string | null;
  readonly rate: RateDto | null;
  readonly calendar: WorkCalendar;
  readonly pages: readonly PagePlan[];
  readonly forecast: Forecast;
  /** Minutes on each of the last working days, the latest last. */
  readonly lastDays: readonly number[];
  /** What the job pays, where it has a rate; per hour is of what was worked. */
  readonly pay: {
    readonly total: number;
    readonly perHourSoFar: number | null;
    readonly perHourExpected: number | null;
  } | null;
  /** Minutes worked by day, the earliest first. */
  readonly days: readonly { readonly day: string; readonly minutes: number }[];
}

export interface WorkTimeView {
  readonly pageId: string;
  readonly pageName: string;
  readonly stage: TimeStage;
  readonly person: string;
  readonly day: string;
  readonly byHand: boolean;
  readonly seconds: number;
  readonly note: string | null;
}

/** Something that happened to a job. */
export interface LogEntryView {
  readonly entry: string;
  readonly at: string;
  readonly kind: string;
  readonly what: string;
  readonly who: string | null;
  readonly why: string | null;
  readonly pageId: string | null;
  readonly pageName: string | null;
}
