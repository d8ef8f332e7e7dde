import { cleanName } from '@jumble/core';
import { IsString, Length, Matches, ValidateBy, ValidateIf } from 'class-validator';

/** The field may be left out, but not be null. */
export const IfGiven = (): PropertyDecorator => ValidateIf((_, value) => value !== undefined);

/** A name as people write it: in one line, not blank. */
export function IsName(): PropertyDecorator {
  return applyAll(IsLine(120), Length(1, 120), Matches(/\S/, { message: 'name must not be blank' }));
}

/** A text in one line without control characters; it may be empty. */
export function IsLine(most: number): PropertyDecorator {
  return applyAll(
    IsString(),
    Length(0, most),
    ValidateBy({
      name: 'isLine',
      validator: {
        validate: (value) => typeof value !== 'string' || value.trim() === cleanName(value),
        defaultMessage: (about) => `${about?.property ?? 'it'} must not hold control characters or line breaks`,
      },
    }),
  );
}

function applyAll(...decorators: readonly PropertyDecorator[]): PropertyDecorator {
  return (target, property) => decorators.forEach((decorate) => decorate(target, property));
}
