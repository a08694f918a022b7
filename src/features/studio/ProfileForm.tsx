'use client';

import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { EngineProfileSchema, type EngineProfile, type Helper } from '@/core/profile/profile';
import { AxesFields } from './AxesFields';
import { HelperRows } from './HelperRows';
import { SkeletonBlock } from './SkeletonBlock';
import { FIELD_GROUPS, formOf, nameOf, withForm, type ProfileField } from './profile-fields';

interface ProfileFormProps {
  readonly profile: EngineProfile;
  /** Version that is made by saving. */
  readonly next: number;
  readonly onSave: (profile: EngineProfile) => Promise<void>;
}

type Values = Record<string, string | boolean>;

/** What is wrong with a profile, by the field's path. */
const faultsIn = (profile: unknown): ReadonlyMap<string, string> =>
  new Map(EngineProfileSchema.safeParse(profile).error?.issues.map(({ path, message }) => [path.join('.'), message]));

/** A profile as a form: each field with what it is for and an example; all faults are told at once. */
export function ProfileForm({ profile, next, onSave }: ProfileFormProps) {
  const [label, setLabel] = useState(profile.label);
  const [id, setId] = useState(profile.id);
  const [lists, setLists] = useState({ helpers: profile.helpers, attachments: profile.attachments });
  const [axes, setAxes] = useState(profile.axes);
  const [skeleton, setSkeleton] = useState(profile.skeleton);
  // A kept profile may be older than today's rules.
  const [faults, setFaults] = useState(() => faultsIn(profile));
  const { register, handleSubmit, formState } = useForm<Values>({ defaultValues: formOf(profile) });
  const submit = handleSubmit(async (values) => {
    const wanted = { ...(withForm(profile, values) as EngineProfile), ...lists, axes, skeleton, label, id };
    const parsed = EngineProfileSchema.safeParse(wanted);
    setFaults(faultsIn(wanted));
    if (parsed.success) await onSave(parsed.data);
  });
  const shown = FIELD_GROUPS.flatMap(({ fields }) => fields).map(({ path }) => path);
  const elsewhere = [...faults].filter(([path]) => !shown.includes(path));
  return (
    <form aria-label="Engine profile" onSubmit={(event) => void submit(event)} className="max-w-4xl">
      <div className="sticky -top-5 z-10 -mx-5 -mt-5 mb-5 flex items-center gap-3 border-b border-base-300 bg-base-200 px-5 py-2">
        <label className="flex items-center gap-2 font-semibold">
          Name
          <input className="input w-44 input-sm" value={label} onChange={(event) => setLabel(event.target.value)} />
        </label>
        <label className="flex items-center gap-2 text-[13px]">
          Id
          <input
            className="input w-36 font-mono input-sm"
            value={id}
            onChange={(event) => setId(event.target.value)}
            title="Another id makes another profile"
          />
        </label>
        <button className="btn ml-auto btn-primary btn-sm" disabled={formState.isSubmitting}>
          {id === profile.id ? `Save as version ${next}` : 'Save as a new profile'}
        </button>
      </div>
      {elsewhere.length > 0 && (
        <ul role="alert" className="mb-3 list-disc pl-5 text-[13px] text-error">
          {elsewhere.map(([path, message]) => (
            <li key={path}>
              <span className="font-mono text-xs">{path}</span> {message}
            </li>
          ))}
        </ul>
      )}
      {FIELD_GROUPS.map(({ title, fields }) => (
        <fieldset key={title} className="mb-5">
          <legend className="mb-1 font-semibold">{title}</legend>
          <div className="grid grid-cols-2 gap-x-6 gap-y-2">
            {fields.map((each) => (
              <Field
                key={each.path}
                field={each}
                fault={faults.get(each.path)}
                register={register(nameOf(each.path))}
              />
            ))}
          </div>
          {title === 'Root and axes' && <AxesFields axes={axes} onChange={setAxes} />}
        </fieldset>
      ))}
      <HelperRows
        title="Helper bones"
        help="Added at handoff: targets that the engine drives feet and hands to."
        rows={lists.helpers}
        onChange={(helpers: Helper[]) => setLists({ ...lists, helpers })}
      />
      <HelperRows
        title="Attachment points"
        help="Added at handoff: where props and lamps are hung."
        rows={lists.attachments}
        onChange={(attachments: Helper[]) => setLists({ ...lists, attachments })}
      />
      <SkeletonBlock skeleton={skeleton} onChange={setSkeleton} />
    </form>
  );
}

interface FieldProps {
  readonly field: ProfileField;
  readonly fault: string | undefined;
  readonly register: ReturnType<ReturnType<typeof useForm<Values>>['register']>;
}

function Field({ field: { label, help, example, kind }, fault, register }: FieldProps) {
  const isList = kind === 'list' || kind === 'anyList';
  return (
    <label className="flex items-start gap-3 text-[13px]">
      <span className="w-44 shrink-0 pt-1">{label}</span>
      <span className="min-w-0 flex-1">
        {kind === 'switch' ? (
          <input type="checkbox" className="toggle mt-1 toggle-sm" {...register} />
        ) : typeof kind === 'object' ? (
          <select className="select w-full select-sm" {...register}>
            {kind.oneOf.map((word) => (
              <option key={word}>{word}</option>
            ))}
          </select>
        ) : isList ? (
          <textarea
            className="textarea w-full font-mono textarea-sm"
            rows={2}
            placeholder={example}
            aria-invalid={fault !== undefined}
            {...register}
          />
        ) : (
          <input
            className={`input w-full input-sm ${kind === 'text' ? '' : 'font-mono'}`}
            inputMode={kind === 'text' ? 'text' : 'decimal'}
            placeholder={example}
            aria-invalid={fault !== undefined}
            {...register}
          />
        )}
        <span className="quiet block text-xs">
          {help}
          {isList ? ' One to a line.' : ''}
        </span>
        {fault !== undefined && (
          <span role="alert" className="block text-xs text-error">
            {fault}
          </span>
        )}
      </span>
    </label>
  );
}
