import { spawnSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { linkPackages, makeFolder, REPOSITORY } from './helpers.ts'

const hasNeovim = spawnSync('nvim', ['--version']).status === 0

/** The set-up of the documents, for any version, and keystrokes whose outcome is printed. */
const SCRIPT = `
local client = vim.lsp.start_client({
  name = 'zinc-pantry',
  cmd = { 'node', 'node_modules/zinc-pantry/bin/zinc-pantry.js', 'language-server', '--stdio' },
  root_dir = vim.fn.getcwd(),
})
vim.lsp.buf_attach_client(0, client)
vim.bo.omnifunc = 'v:lua.vim.lsp.omnifunc'
vim.o.completeopt = 'menu,noinsert'
local say = function(...) io.stdout:write(table.concat({ ... }, ' ') .. '\\n') end
local keys = function(text) vim.api.nvim_feedkeys(vim.api.nvim_replace_termcodes(text, true, false, true), 'xt', false) end
vim.wait(20000, function() return vim.lsp.get_client_by_id(client).initialized end, 20)
local ask = function(method, more)
  local parameters = vim.tbl_extend('force', vim.lsp.util.make_position_params(), more or {})
  local answers = vim.lsp.buf_request_sync(0, method, parameters, 20000)
  return answers and answers[client] and answers[client].result
end
keys('/hut: gable<CR>Wcegab<Esc>')
vim.wait(20000, function() return #vim.diagnostic.get(0) > 0 end, 20)
say('problem', vim.diagnostic.get(0)[1].code, tostring(vim.diagnostic.get(0)[1].lnum))
vim.api.nvim_win_set_cursor(0, { vim.api.nvim_win_get_cursor(0)[1], 11 })
for _, item in ipairs(ask('textDocument/completion').items) do
  if item.label == 'Gable Hut' then
    say('offer', item.label, item.textEdit.newText)
    vim.lsp.util.apply_text_edits({ item.textEdit }, 0, 'utf-16')
  end
end
say('line', vim.api.nvim_get_current_line())
vim.wait(20000, function() return #vim.diagnostic.get(0) == 0 end, 20)
say('problems', tostring(#vim.diagnostic.get(0)))
vim.api.nvim_win_set_cursor(0, { vim.api.nvim_win_get_cursor(0)[1], 11 })
say('hover', vim.split(ask('textDocument/hover').contents.value, '\\n')[1])
say('definition', vim.uri_to_fname(ask('textDocument/definition')[1].uri):match('content/.*'))
vim.api.nvim_win_set_cursor(0, { 1, 0 })
keys('/scree<CR>')
vim.lsp.util.apply_workspace_edit(ask('textDocument/rename', { newName = 'talus' }), 'utf-16')
say('line', vim.api.nvim_get_current_line())
vim.cmd('silent wall')
vim.cmd('qa!')
`

describe.skipIf(!hasNeovim)('In Neovim', () => {
  test('a reference is completed, a problem comes and goes, and an entry is renamed', () => {
    const root = makeFolder({}, join(REPOSITORY, 'examples/fellmark'))
    linkPackages(root)
    writeFileSync(join(root, 'keys.lua'), SCRIPT)
    const file = 'content/trails/north-fell/high-traverse.md'
    const { stdout } = spawnSync('nvim', ['--clean', '--headless', '-n', file, '-c', 'luafile keys.lua'], {
      cwd: root,
      encoding: 'utf8',
      timeout: 60_000,
    })
    expect(stdout.trim().split(/\r?\n/)).toEqual([
      'problem ref-dangling 15',
      'offer Gable Hut gable',
      'line   - hut: gable',
      'problems 0',
      'hover **Gable Hut** · huts/gable',
      'definition content/huts/gable.yaml',
      'line terrains: [rock, talus, grass]',
    ])
    expect(readFileSync(join(root, 'content/terrains.json'), 'utf8')).toContain('"talus": {')
  })
})
