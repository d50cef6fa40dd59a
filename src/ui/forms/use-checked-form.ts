'use client';
import type { joiResolver } from '@hookform/resolvers/joi';
import { useState } from 'react';
import { useForm, type DefaultValues, type FieldValues, type Path, type Resolver } from 'react-hook-form';
import { messageOf } from '../api';

/** A schema of the server's, which comes with its library once something is to be checked. */
export type SchemaLoader = () => Promise<Parameters<typeof joiResolver>[0]>;

/**
 * A form whose fields say themselves what is wrong with them, in our words. What the server refuses is its trouble.
 *
 * @param check a schema's loader, or a function from the values to the faults by field
 * @param defaultValues of choices alone: a text field without one keeps what was typed before the page came alive
 * @param submit sends values that passed; what it throws is shown
 */
export function useCheckedForm<T extends FieldValues>(
  check: SchemaLoader | { faults: (values: T) => Partial<Record<keyof T, string>> },
  defaultValues: DefaultValues<T>,
  submit: (values: T) => Promise<void>,
) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const form = useForm<T>({
    defaultValues,
    reValidateMode: 'onChange',
    resolver: typeof check === 'function' ? schemaResolver(check) : faultsResolver(check.faults),
  });
  const { errors, isSubmitting } = form.formState;
  return {
    form,
    trouble,
    setTrouble,
    isSubmitting,
    /** For the form element; its fields are checked here and not by the browser. */
    formProps: {
      noValidate: true,
      onSubmit: form.handleSubmit(async (values) => {
        setTrouble(null);
        try {
          await submit(values);
        } catch (error) {
          setTrouble(messageOf(error));
        }
      }),
    },
    /** For a field of this name. */
    field: (name: Path<T>) => ({
      ...form.register(name),
      error: sentence(errors[name]?.message as string | undefined),
    }),
  };
}

function schemaResolver<T extends FieldValues>(load: SchemaLoader): Resolver<T> {
  return async (values, context, options) => {
    const [{ joiResolver: resolverOf }, schema] = await Promise.all([import('@hookform/resolvers/joi'), load()]);
    const resolve = resolverOf(schema, { abortEarly: false, errors: { wrap: { label: false } } });
    return (resolve as unknown as Resolver<T>)(values, context, options);
  };
}

function faultsResolver<T extends FieldValues>(faultsOf: (values: T) => Partial<Record<keyof T, string>>): Resolver<T> {
  return (values) => {
    const faults = Object.entries(faultsOf(values)).map(([name, message]) => [name, { type: 'rule', message }]);
    return faults.length > 0 ? { values: {}, errors: Object.fromEntries(faults) } : { values, errors: {} };
  };
}

/** “the name is missing” becomes “The name is missing.” */
function sentence(message: string | undefined): string | undefined {
  if (!message) return undefined;
  const begun = message.charAt(0).toLocaleUpperCase() + message.slice(1);
  return begun.endsWith('.') ? begun : `${begun}.`;
}
