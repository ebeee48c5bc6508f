import { Lexer } from 'yaml'

/** Every comment of a YAML text, in order, whether the text can be read or not. */
export function listYamlComments(text: string): string[] {
  if (!text.includes('#')) return []
  const comments: string[] = []
  for (const token of new Lexer().lex(text)) if (token.startsWith('#')) comments.push(token)
  return comments
}
