import { createConnection } from 'mysql2/promise'

test.each(['root', '', 'nobody', 'mysql'])('nobody comes in over the network as “%s” without a password', async (user) => {
  const come = createConnection({ host: '127.0.0.1', port: Number(process.env.SPRIG_DB_PORT), user })
  await expect(come).rejects.toMatchObject({ code: expect.stringMatching(/ACCESS_DENIED|HOST_NOT_PRIVILEGED/) })
})
