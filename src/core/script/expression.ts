import { FormatError } from '../bytes';

/** What an expression is made of. `at` is the position in its text, counted from 0. */
export type Expression =
  | { kind: 'literal'; value: number | bigint | string; at: number }
  | { kind: 'name'; name: string; at: number }
  | { kind: 'member'; of: Expression; name: string; at: number }
  | { kind: 'item'; of: Expression; index: Expression; at: number }
  | { kind: 'call'; name: string; args: Expression[]; at: number }
  | { kind: 'unary'; operator: string; of: Expression; at: number }
  | { kind: 'binary'; operator: string; left: Expression; right: Expression; at: number };

interface Token {
  kind: 'number' | 'text' | 'name' | 'sign' | 'end';
  text: string;
  at: number;
}

const TOKEN =
  /\s*(?:(0[xX][0-9a-fA-F_]+|[0-9][0-9_]*(?:\.[0-9]+(?:[eE][-+]?[0-9]{1,2})?)?)|'([^']*)'|"([^"]*)"|([A-Za-z_][A-Za-z0-9_]*)|(<<|>>|<=|>=|==|!=|[-+*/%&|^~<>()[\],.]))/y;

/** Loosest first; operators of one row bind equally and to the left. */
const BINARY: readonly (readonly string[])[] = [
  ['or'],
  ['and'],
  ['==', '!=', '<', '<=', '>', '>='],
  ['|'],
  ['^'],
  ['&'],
  ['<<', '>>'],
  ['+', '-'],
  ['*', '/', '%'],
];

/** Deep enough for any honest expression, shallow enough for the stack. */
const MOST_DEPTH = 100;
const MOST_LENGTH = 4000;

/** Parses the text of one expression. Throws FormatError `script-wrong` with the column in the text. */
export function parseExpression(text: string): Expression {
  const tokens = tokenise(text);
  let at = 0;
  let depth = 0;
  const peek = (): Token => tokens[at]!;
  const next = (): Token => tokens[at++]!;
  const isSign = (sign: string): boolean => peek().kind === 'sign' && peek().text === sign;
  const isOperator = (operators: readonly string[]): boolean =>
    (peek().kind === 'sign' || peek().kind === 'name') && operators.includes(peek().text);

  function expect(sign: string): void {
    if (!isSign(sign)) throw wrong(peek().at, `'${sign}'`, spelled(peek()));
    next();
  }

  function binary(level: number): Expression {
    const operators = BINARY[level];
    if (!operators) return unary();
    let left = binary(level + 1);
    while (isOperator(operators)) {
      const operator = next();
      left = {
        kind: 'binary',
        operator: operator.text,
        left,
        right: binary(level + 1),
        at: operator.at,
      };
    }
    return left;
  }

  function unary(): Expression {
    const token = peek();
    if (isOperator(['-', '~', 'not'])) {
      next();
      return { kind: 'unary', operator: token.text, of: nested(unary), at: token.at };
    }
    return postfix();
  }

  function nested<T>(work: () => T): T {
    if (++depth > MOST_DEPTH) throw wrong(peek().at, 'less nesting', `more than ${MOST_DEPTH}`);
    const result = work();
    depth--;
    return result;
  }

  function postfix(): Expression {
    let of = primary();
    for (;;) {
      const token = peek();
      if (isSign('.')) {
        next();
        const name = next();
        if (name.kind !== 'name') throw wrong(name.at, 'a name after the point', spelled(name));
        of = { kind: 'member', of, name: name.text, at: name.at };
      } else if (isSign('[')) {
        next();
        const index = nested(() => binary(0));
        expect(']');
        of = { kind: 'item', of, index, at: token.at };
      } else return of;
    }
  }

  function primary(): Expression {
    const token = next();
    if (token.kind === 'number') return { kind: 'literal', value: numberIn(token), at: token.at };
    if (token.kind === 'text') return { kind: 'literal', value: token.text, at: token.at };
    if (token.kind === 'sign' && token.text === '(') {
      const inner = nested(() => binary(0));
      expect(')');
      return inner;
    }
    if (token.kind !== 'name') throw wrong(token.at, 'a value', spelled(token));
    if (!isSign('(')) return { kind: 'name', name: token.text, at: token.at };
    next();
    const args: Expression[] = [];
    while (!isSign(')')) {
      if (args.length > 0) expect(',');
      args.push(nested(() => binary(0)));
    }
    next();
    return { kind: 'call', name: token.text, args, at: token.at };
  }

  const expression = binary(0);
  if (peek().kind !== 'end') throw wrong(peek().at, 'the end of the expression', spelled(peek()));
  return expression;
}

function numberIn(token: Token): number | bigint {
  if (token.text.includes('.')) return Number(token.text.replace(/_/g, ''));
  const value = BigInt(token.text.replace(/_/g, ''));
  if (value >= 1n << 64n) throw wrong(token.at, 'a number of at most 64 bits', token.text);
  return value <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(value) : value;
}

function tokenise(text: string): Token[] {
  if (text.length > MOST_LENGTH) throw wrong(0, `at most ${MOST_LENGTH} characters`, `${text.length}`);
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  const end = text.trimEnd().length;
  while (TOKEN.lastIndex < end) {
    const from = TOKEN.lastIndex;
    const match = TOKEN.exec(text);
    if (!match) {
      const at = from + (text.slice(from).length - text.slice(from).trimStart().length);
      throw wrong(at, 'a number, a name, a text or an operator', `'${text[at]}'`);
    }
    const [, number, single, double, name, sign] = match;
    const body = number ?? single ?? double ?? name ?? sign!;
    const quoted = single !== undefined || double !== undefined;
    tokens.push({
      kind: number ? 'number' : quoted ? 'text' : name ? 'name' : 'sign',
      text: body,
      at: TOKEN.lastIndex - body.length - (quoted ? 2 : 0),
    });
  }
  tokens.push({ kind: 'end', text: '', at: text.length });
  return tokens;
}

const spelled = (token: Token): string => (token.kind === 'end' ? 'the end' : `'${token.text}'`);

/** A mistake at a position of the expression's text; the script's reader turns it into line and column. */
export function wrong(at: number, expected: string, actual: string, remedy?: string): FormatError {
  return new FormatError('script-wrong', { column: at + 1, expected, actual, remedy });
}
