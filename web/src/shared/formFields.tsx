/** The fields of a form that react-hook-form keeps: those of `fields.tsx`, bound by their name. */
import { t } from "@lingui/core/macro";
import type { ComponentProps } from "react";
import { type Control, type FieldPathByValue, type FieldValues, useController } from "react-hook-form";
import { Checkbox } from "./Checkbox";
import { NumberField, SelectField, TextField } from "./fields";
import { numberOf } from "./numbers";

interface Bound<Form extends FieldValues, Value> {
  control: Control<Form>;
  name: FieldPathByValue<Form, Value>;
}
type Rest<Props> = Omit<Props, "value" | "onChange" | "name" | "checked" | "options">;

/** A line to type in. */
export function FormText<Form extends FieldValues>({
  control,
  name,
  ...more
}: Bound<Form, string> & Rest<ComponentProps<typeof TextField>>) {
  const { field } = useController({ control, name });
  return <TextField {...more} value={field.value} onChange={field.onChange} />;
}

/** A figure to type; what is no figure is said as it is typed, and the form is not sent. */
export function FormNumber<Form extends FieldValues>({
  control,
  name,
  label,
  ...more
}: Bound<Form, string> & Rest<ComponentProps<typeof NumberField>>) {
  const { field } = useController({
    control,
    name,
    rules: {
      validate: (text: string) =>
        !Number.isNaN(numberOf(text)) || t`${label}: found “${text}”, expected a number.`,
    },
  });
  return <NumberField {...more} label={label} value={field.value} onChange={field.onChange} />;
}

/** One of some words. */
export function FormSelect<Form extends FieldValues, Word extends string>({
  control,
  name,
  options,
  ...more
}: Bound<Form, Word> & { options: readonly (readonly [Word, string])[] } & Rest<
    ComponentProps<typeof SelectField>
  >) {
  const { field } = useController({ control, name });
  return <SelectField<Word> {...more} options={options} value={field.value} onChange={field.onChange} />;
}

/** Which of some names are meant, each a box to tick. */
export function FormTicks<Form extends FieldValues>({
  control,
  name,
  names,
}: Bound<Form, string[]> & { names: readonly string[] }) {
  const { field } = useController({ control, name });
  const ticked: readonly string[] = field.value;
  return names.map((tick) => (
    <Checkbox
      key={tick}
      label={tick}
      checked={ticked.includes(tick)}
      onChange={(on) => field.onChange(on ? [...ticked, tick] : ticked.filter((other) => other !== tick))}
    />
  ));
}

/** A box to tick. */
export function FormCheckbox<Form extends FieldValues>({
  control,
  name,
  label,
}: Bound<Form, boolean> & { label: string }) {
  const { field } = useController({ control, name });
  return <Checkbox label={label} checked={field.value} onChange={field.onChange} />;
}
