'use client'

import { App, Input, Modal, Segmented, Select } from 'antd'
import { useState } from 'react'
import type { TestView } from '@/contract/contract'
import type { Wiring } from '@/core/goals'
import type { DocumentId, GoalId, NodeId } from '@/core/ids'
import { componentTypes, excerptOf } from '@/components/types'
import { PageFrame } from '../desk/page-frame'
import { useAsk, useTell } from '../talk'

/** A goal is made where it happens: point at what is to be pressed, or choose the page that is to be shown. */
export function PointAtGoal({ test, choose, close }: { test: TestView; choose: (goal: GoalId) => void; close: () => void }) {
  const { message } = App.useApp()
  const [kind, setKind] = useState<'click' | 'page'>('click')
  const [pageId, setPageId] = useState<DocumentId>(test.design.document)
  const [node, setNode] = useState<NodeId | null>(null)
  const [name, setName] = useState('')
  const asked = useAsk('document.open', { document: pageId })
  const create = useTell('goal.create', (goal) => {
    choose(goal.id)
    close()
  })
  const page = asked.data
  const pointed = node === null ? undefined : page?.document.nodes[node]
  const title = test.pages.find(({ id }) => id === pageId)?.title ?? ''
  const suggested =
    kind === 'page'
      ? `Saw “${title}”`
      : pointed === undefined
        ? ''
        : `Pressed “${excerptOf(pointed) || componentTypes.get(pointed.type)?.label}”`
  const wiring: Wiring | null =
    kind === 'page' ? { kind, document: pageId } : node === null ? null : { kind, document: pageId, node }

  const point = (found: NodeId) => {
    const type = componentTypes.get(page?.document.nodes[found]?.type ?? '')
    if (type?.pressable) setNode(found)
    else void message.info('That cannot be pressed. Point at a button, a card, a plan, a form or a call to action.')
  }

  return (
    <Modal
      open
      width={980}
      title="What counts?"
      onCancel={close}
      okText="Use this goal"
      cancelText="Not now"
      okButtonProps={{ disabled: wiring === null, loading: create.isPending }}
      onOk={() =>
        wiring !== null &&
        create.mutate({ name: name.trim() || suggested, wiring }, { onError: (reason) => void message.error(reason.message, 8) })
      }
    >
      <div className="pointing-head">
        <Segmented<'click' | 'page'>
          value={kind}
          onChange={setKind}
          options={[
            { value: 'click', label: 'Something is pressed' },
            { value: 'page', label: 'A page is shown' },
          ]}
        />
        <Select
          aria-label="Page"
          value={pageId as string}
          showSearch
          optionFilterProp="label"
          className="grow"
          options={test.pages.map(({ id, title: label, path, published }) => ({
            value: id as string,
            label: `${label} (${path})${published ? '' : ', not published'}`,
          }))}
          onChange={(value) => {
            setPageId(value as DocumentId)
            setNode(null)
          }}
        />
      </div>
      {kind === 'click' && page !== undefined ? (
        <>
          <p className="quiet">Point at what is to be pressed.</p>
          <div className="pointing-frame">
            <PageFrame
              document={page.document}
              surroundings={page.surroundings}
              width={1280}
              selected={node}
              select={point}
              label="Point at the goal"
            />
          </div>
        </>
      ) : null}
      <label className="question">
        <span>Name of the goal</span>
        <Input
          aria-label="Name of the goal"
          value={name}
          placeholder={suggested || 'Point first'}
          maxLength={120}
          onChange={({ target }) => setName(target.value)}
        />
      </label>
    </Modal>
  )
}
