import { expect, test } from 'vitest'

import { oneAtATime } from './newest'

test('one request is on its way, and of those that wait the last is sent alone', async () => {
  const sent: string[] = []
  const answers: (() => void)[] = []
  let value = 'a'
  const ask = oneAtATime(() => {
    sent.push(value)
    return new Promise<void>((resolve) => answers.push(resolve))
  })
  const all = ask()
  for (value of ['b', 'c', 'd']) ask()
  expect(sent).toEqual(['a'])
  answers[0]()
  await Promise.resolve().then(() => new Promise((resolve) => setTimeout(resolve)))
  expect(sent).toEqual(['a', 'd'])
  answers[1]()
  await all
  expect(sent).toEqual(['a', 'd'])
})

test('a request that fails holds up none', async () => {
  let sent = 0
  const ask = oneAtATime(async () => {
    sent += 1
    throw new Error('refused')
  })
  await expect(ask()).rejects.toThrow('refused')
  await expect(ask()).rejects.toThrow('refused')
  expect(sent).toBe(2)
})
