import { commands, type ExtensionContext, workspace } from 'vscode'
import { LanguageClient } from 'vscode-languageclient/node'

/** The languages whose documents a site may have, by the names that the editor knows them by. */
const LANGUAGES = [
  'markdown',
  'mdx',
  'yaml',
  'json',
  'jsonc',
  'jsonl',
  'toml',
  'csv',
  'tsv',
  'typescript',
  'javascript',
]

let client: LanguageClient | undefined

/** Starts the language server that the site itself has installed, and another when its command is another. */
export async function activate(context: ExtensionContext): Promise<void> {
  context.subscriptions.push(
    commands.registerCommand('zincPantry.restart', restart),
    workspace.onDidChangeConfiguration((change) => {
      if (change.affectsConfiguration('zincPantry.command')) void restart()
    }),
  )
  await start()
}

/** Ends it. */
export async function deactivate(): Promise<void> {
  await client?.stop()
  client = undefined
}

async function restart(): Promise<void> {
  await deactivate()
  await start()
}

async function start(): Promise<void> {
  const given = workspace.getConfiguration('zincPantry').get<readonly string[]>('command') ?? []
  const [command = 'npx', ...args] = given.length > 0 ? given : ['npx', 'zinc-pantry', 'language-server']
  const cwd = await folderOfSite()
  client = new LanguageClient(
    'zincPantry',
    'Zinc Pantry',
    // On Windows npx is a script, which takes a shell to be started.
    { command, args, options: { ...(cwd === undefined ? {} : { cwd }), shell: process.platform === 'win32' } },
    { documentSelector: LANGUAGES.map((language) => ({ scheme: 'file', language })) },
  )
  await client.start()
}

/** The folder of the first configuration in the window, where the package of the site is found. */
async function folderOfSite(): Promise<string | undefined> {
  const [found] = await workspace.findFiles('**/pantry.config.{ts,mts,js,mjs}', '**/node_modules/**', 1)
  return found?.fsPath.replace(/[\\/][^\\/]*$/, '')
}
