/** Stands in for the booking service, over HTTP: `node stand-in/server.mjs [PORT]`. It tells its address when ready. */
import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { transformSync } from 'rolldown/utils'

const source = readFileSync(new URL('./bookings.ts', import.meta.url), 'utf8')
const { code } = transformSync('bookings.ts', source)
const { bookings } = await import(`data:text/javascript;base64,${Buffer.from(code).toString('base64')}`)

const server = createServer((request, response) => {
  const body = JSON.stringify(bookings(), null, 2)
  const etag = `"${createHash('sha256').update(body).digest('hex').slice(0, 16)}"`
  if (request.headers['if-none-match'] === etag) return response.writeHead(304, { etag }).end()
  response.writeHead(200, { 'content-type': 'application/json', etag }).end(body)
})
server.listen(Number(process.argv[2] ?? 0), '127.0.0.1', () => {
  console.log(`http://127.0.0.1:${server.address().port}/bookings`)
})
