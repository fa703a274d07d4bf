import knex from 'knex'

const over = (connection: object) => knex({ client: 'mysql2', connection, pool: { min: 0, max: 1 }, acquireConnectionTimeout: 3000 })

test.each(['root', '', 'nobody', 'mysql'])('nobody comes in over the network as “%s” without a password', async (user) => {
  const db = over({ host: '127.0.0.1', port: Number(process.env.SPRIG_DB_PORT), user })
  await expect(db.raw('select 1')).rejects.toMatchObject({ code: expect.stringMatching(/ACCESS_DENIED|HOST_NOT_PRIVILEGED|HOST_IS_NOT/) })
  await db.destroy()
})
