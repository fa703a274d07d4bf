import { look } from '../look'
import { ACROSS, BESIDE, imageOf } from '../site-picture'
import type { hero } from './fields'

export const heroLook = look<typeof hero>(({ props, mark, site }) => (
  <div className={`hero ${props.arrangement}`} {...mark}>
    <div className="hero-words">
      <h1 className="heading grand" data-f="title">
        {props.title}
      </h1>
      {props.words === '' ? null : (
        <p className="text lead" data-f="words">
          {props.words}
        </p>
      )}
      {props.buttonWords === '' ? null : (
        <p className="button-line">
          <a className="button accent large" href={site.addressOf(props.link)} data-f="buttonWords">
            {props.buttonWords}
          </a>
        </p>
      )}
    </div>
    {props.picture === '' ? null : (
      <img
        {...imageOf(site, props.picture, props.arrangement === 'beside' ? BESIDE : ACROSS, { width: 640, height: 640 })}
        alt={props.alt}
      />
    )}
  </div>
))
