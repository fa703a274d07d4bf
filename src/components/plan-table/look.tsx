import { look } from '../look'
import type { plan, planTable } from './fields'

export const planTableLook = look<typeof planTable>(({ props, mark, children }) => (
  <div className={`plans ${props.arrangement}`} {...mark}>
    {children}
  </div>
))

export const planLook = look<typeof plan>(({ props, mark, site, rank }) => {
  const Title = rank()
  return (
    <article className={props.favoured ? 'plan favoured' : 'plan'} {...mark}>
      <Title data-f="title">{props.title}</Title>
      <p className="price">
        <strong data-f="price">{props.price}</strong> <span data-f="period">{props.period}</span>
      </p>
      <ul>
        {props.includes
          .split('\n')
          .filter(Boolean)
          .map((item) => (
            <li key={item}>{item}</li>
          ))}
      </ul>
      <a className={props.favoured ? 'button accent' : 'button quiet'} href={site.addressOf(props.link)} data-f="buttonWords">
        {props.buttonWords}
      </a>
    </article>
  )
})
