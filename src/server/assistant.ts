import type { IncomingMessage, ServerResponse } from 'node:http'
import { Server } from '@modelcontextprotocol/sdk/server/index.js'
import { StreamableHTTPServerTransport } from '@modelcontextprotocol/sdk/server/streamableHttp.js'
import { CallToolRequestSchema, ListToolsRequestSchema, type CallToolResult } from '@modelcontextprotocol/sdk/types.js'
import { array, number, object, string, ValidationError } from 'yup'
import { randomUUID } from 'node:crypto'
import type { SentPicture, Shared, SharedWish, WantedPicture, WishNews } from '../folder'

/** Where assistants speak with the server (Model Context Protocol, streamable HTTP), before the secret. */
export const ASSISTANT_PATH = '/mcp/'

const NO_INPUT = { type: 'object', properties: {} } as const
const ID = { id: { type: 'string', description: 'The id of the wish, as `wishes` gives it' } } as const

const TOOLS = [
  {
    name: 'chosen_elements',
    description:
      'The elements that the person has chosen on the page: file, line, a selector, the start tag, and for each value that the source gives them the rule or class list that it comes from and how many elements an edit there reaches.',
    inputSchema: NO_INPUT,
  },
  {
    name: 'picture_of_element',
    description: 'A picture (PNG) of a chosen element as the page shows it now, unsaved edits included.',
    inputSchema: {
      type: 'object',
      properties: { index: { type: 'integer', minimum: 0, description: 'Which of the chosen elements, from 0; the first when left out' } },
    },
  },
  {
    name: 'wishes',
    description: 'What the person wishes for, in their words, with the elements that it is about and whether it is open, taken up or done.',
    inputSchema: NO_INPUT,
  },
  {
    name: 'edits_since_save',
    description:
      'Edits that the person made and has not saved yet, each with its place and why it lands there. The files do not have them.',
    inputSchema: NO_INPUT,
  },
  {
    name: 'take_up_wish',
    description: 'Says that you work on a wish. The person sees it.',
    inputSchema: { type: 'object', properties: ID, required: ['id'] },
  },
  {
    name: 'report_wish_done',
    description: 'Says that a wish is done, after its files are written. The person sees it, and the change on the page.',
    inputSchema: {
      type: 'object',
      properties: {
        ...ID,
        files: {
          type: 'array',
          items: { type: 'string' },
          description: 'The files that you changed, from the top of the folder',
        },
        told: { type: 'string', description: 'What you did, in a sentence or two' },
      },
      required: ['id', 'files'],
    },
  },
] as const

/** How long the window is waited for; ms. */
const PATIENCE = 25_000

const PICTURE = object({ index: number().integer().min(0) }).noUnknown()
const TAKE = object({ id: string().required().max(100) }).noUnknown()
const DONE = object({
  id: string().required().max(100),
  files: array().of(string().required().max(4096)).max(1000).required(),
  told: string().max(10_000),
}).noUnknown()

const answer = (value: unknown): CallToolResult => ({
  content: [{ type: 'text', text: typeof value === 'string' ? value : JSON.stringify(value, null, 2) }],
})
const refused = (why: string): CallToolResult => ({ ...answer(why), isError: true })

/** What the window shares with an assistant, and what that says of wishes. */
export class Assistant {
  private shared: Shared | null = null
  private readonly said = new Map<string, WishNews>()

  private readonly pictures = new Map<string, { readonly index: number; readonly done: (picture: SentPicture) => void }>()

  /** `tell` is called when something was said of a wish, and when a picture is wanted of the window. */
  constructor(private readonly tell: (what: 'wishes' | 'pictures') => void) {}

  get wanted(): readonly WantedPicture[] {
    return [...this.pictures].map(([id, { index }]) => ({ id, index }))
  }

  /** Takes a picture that was wanted; the first that comes counts. */
  picture(id: string, picture: SentPicture): void {
    this.pictures.get(id)?.done(picture)
  }

  private async pictureOf(index: number): Promise<CallToolResult> {
    const chosen = this.shared?.chosen.length ?? 0
    if (chosen === 0) return refused('The person has chosen no element.')
    if (index >= chosen)
      return refused(`The person has chosen ${chosen === 1 ? 'one element' : `${chosen} elements`}; they are counted from 0.`)
    const id = randomUUID()
    let timer: ReturnType<typeof setTimeout> | undefined
    const picture = await new Promise<SentPicture>((done) => {
      timer = setTimeout(() => done({ ok: false, why: 'The window did not answer in time.' }), PATIENCE)
      this.pictures.set(id, { index, done })
      this.tell('pictures')
    })
    clearTimeout(timer)
    this.pictures.delete(id)
    return picture.ok ? { content: [{ type: 'image', data: picture.png, mimeType: 'image/png' }] } : refused(picture.why)
  }

  share(shared: Shared): void {
    this.shared = shared
  }

  get news(): readonly WishNews[] {
    return [...this.said.values()]
  }

  private get wishes(): readonly SharedWish[] {
    return (this.shared?.wishes ?? []).map((w) => ({ ...w, state: this.said.get(w.id)?.state ?? w.state }))
  }

  /** Answers a request by the protocol. Each stands for itself: there is no session to hold. */
  async serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const server = new Server({ name: 'steady-brush', version: '1' }, { capabilities: { tools: {} } })
    server.setRequestHandler(ListToolsRequestSchema, () => ({ tools: [...TOOLS] }))
    server.setRequestHandler(CallToolRequestSchema, ({ params }) => this.call(params.name, params.arguments ?? {}))
    const transport = new StreamableHTTPServerTransport({ sessionIdGenerator: undefined, enableJsonResponse: true })
    response.on('close', () => void server.close())
    await server.connect(transport)
    await transport.handleRequest(request, response)
  }

  private async call(name: string, input: unknown): Promise<CallToolResult> {
    if (!this.shared) return refused('No window has the folder open. Ask the person to open the address that Steady Brush printed.')
    try {
      switch (name) {
        case 'chosen_elements':
          return this.shared.chosen.length
            ? answer({ page: this.shared.page, elements: this.shared.chosen })
            : answer('The person has chosen no element.')
        case 'picture_of_element':
          return await this.pictureOf(PICTURE.validateSync(input, { strict: true }).index ?? 0)
        case 'wishes':
          return this.wishes.length ? answer(this.wishes) : answer('There are no wishes.')
        case 'edits_since_save':
          return this.shared.edits.length ? answer(this.shared.edits) : answer('All edits are saved.')
        case 'take_up_wish':
          return this.note({ ...TAKE.validateSync(input, { strict: true }), state: 'taken', told: '', files: [] })
        case 'report_wish_done':
          return this.note({ told: '', ...DONE.validateSync(input, { strict: true }), state: 'done' })
        default:
          return refused(`There is no tool ${JSON.stringify(name)}.`)
      }
    } catch (error) {
      if (error instanceof ValidationError) return refused(error.message)
      throw error
    }
  }

  private note(news: WishNews): CallToolResult {
    const wish = this.wishes.find((w) => w.id === news.id)
    if (!wish) return refused(`There is no wish ${JSON.stringify(news.id)}.`)
    if (wish.state === 'done') return refused('It is done already.')
    this.said.set(news.id, news)
    this.tell('wishes')
    return answer(news.state === 'taken' ? 'Taken up; the person sees it.' : 'Reported; the person sees it, and looks at the page.')
  }
}
