import { look } from '../look'
import type { form, formField } from './fields'

export const formLook = look<typeof form>(({ props, mark, children, formAddress, rank }) => {
  const Title = rank()
  return (
    <form className={`form ${props.arrangement}`} method="post" action={formAddress()} {...mark}>
      {props.title === '' ? null : <Title data-f="title">{props.title}</Title>}
      <div className="form-fields">{children}</div>
      <button className="button accent large" type="submit" data-f="buttonWords">
        {props.buttonWords}
      </button>
    </form>
  )
})

export const formFieldLook = look<typeof formField>(({ props, mark, node }) => {
  const shared = { id: `field-${node}`, name: props.name, required: props.required, autoComplete: completions[props.kind] }
  return (
    <p className={`form-field ${props.kind}`} {...mark}>
      <label htmlFor={shared.id} data-f="label">
        {props.label}
      </label>
      {props.kind === 'textarea' ? <textarea {...shared} rows={4} maxLength={2000} /> : null}
      {props.kind === 'select' ? (
        <select {...shared}>
          {/* Nothing is chosen for anybody. */}
          <option value="">–</option>
          {props.choices.split(',').map((option) => (
            <option key={option}>{option.trim()}</option>
          ))}
        </select>
      ) : null}
      {props.kind === 'textarea' || props.kind === 'select' ? null : (
        <input {...shared} type={props.kind} maxLength={props.kind === 'date' ? undefined : 200} />
      )}
    </p>
  )
})

const completions: Readonly<Record<string, string | undefined>> = { email: 'email', tel: 'tel' }
