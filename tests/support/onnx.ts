/**
 * Tiny networks in the ONNX format, written for tests: the few messages of its protobuf schema (onnx.proto of the ONNX
 * specification, field numbers from there) that a network of a few nodes needs.
 */

const FLOAT = 1;
const INT64 = 7;
const BOOL = 9;

const varint = (value: number | bigint): number[] => {
  const out: number[] = [];
  let rest = BigInt(value);
  do {
    const low = Number(rest & 127n);
    rest >>= 7n;
    out.push(rest > 0n ? low | 128 : low);
  } while (rest > 0n);
  return out;
};
const int = (field: number, value: number | bigint): number[] => [...varint(field << 3), ...varint(value)];
const bytes = (field: number, value: readonly number[]): number[] => [
  ...varint((field << 3) | 2),
  ...varint(value.length),
  ...value,
];
const text = (field: number, value: string): number[] => bytes(field, [...Buffer.from(value)]);

type Dim = number | string;
type Attribute = number[];

const valueInfo = (name: string, type: number, dims: readonly Dim[]): number[] => {
  const shape = dims.flatMap((d) => bytes(1, typeof d === 'number' ? int(1, d) : text(2, d)));
  return [...text(1, name), ...bytes(2, bytes(1, [...int(1, type), ...bytes(2, shape)]))];
};
const tensor = (name: string, type: number, dims: readonly number[], raw: Buffer): number[] => [
  ...dims.flatMap((d) => int(1, d)),
  ...int(2, type),
  ...text(8, name),
  ...bytes(9, [...raw]),
];
/** A constant of floats. */
export const floats = (name: string, dims: readonly number[], values: readonly number[]): number[] =>
  tensor(name, FLOAT, dims, Buffer.from(Float32Array.from(values).buffer));
const int64 = (name: string, value: bigint): number[] =>
  tensor(name, INT64, [], Buffer.from(BigInt64Array.from([value]).buffer));
const bool = (name: string): number[] => tensor(name, BOOL, [], Buffer.from([1]));

/** A whole number and a list of them as attributes. */
export const intAttribute = (name: string, value: number): Attribute => [
  ...text(1, name),
  ...int(3, value),
  ...int(20, 2),
];
export const intsAttribute = (name: string, values: readonly number[]): Attribute => [
  ...text(1, name),
  ...values.flatMap((v) => int(8, v)),
  ...int(20, 7),
];
const graphAttribute = (name: string, graph: readonly number[]): Attribute => [
  ...text(1, name),
  ...bytes(6, graph),
  ...int(20, 5),
];

/** One node of a network. */
export const node = (
  op: string,
  inputs: readonly string[],
  output: string,
  attributes: readonly Attribute[] = [],
): number[] => [
  ...inputs.flatMap((name) => text(1, name)),
  ...output.split(' ').flatMap((name) => text(2, name)),
  ...text(4, op),
  ...attributes.flatMap((a) => bytes(5, a)),
];

interface Network {
  readonly input: readonly Dim[];
  readonly output: readonly Dim[];
  readonly nodes: readonly (readonly number[])[];
  readonly constants?: readonly (readonly number[])[];
}

const model = (graph: readonly number[]): Buffer =>
  Buffer.from([...int(1, 8), ...bytes(7, graph), ...bytes(8, [...text(1, ''), ...int(2, 13)])]);

/** A network of one input `picture` and one output `depth`, as a file's bytes. */
export const onnx = ({ input, output, nodes, constants = [] }: Network): Buffer =>
  model([
    ...nodes.flatMap((n) => bytes(1, [...n])),
    ...text(2, 'test'),
    ...constants.flatMap((c) => bytes(5, [...c])),
    ...bytes(11, valueInfo('picture', FLOAT, input)),
    ...bytes(12, valueInfo('depth', FLOAT, output)),
  ]);

/** The mean of the three channels. */
export const meanOfChannels = (size: number): Buffer =>
  onnx({
    input: [1, 3, size, size],
    output: [1, 1, size, size],
    nodes: [node('ReduceMean', ['picture'], 'depth', [intsAttribute('axes', [1]), intAttribute('keepdims', 1)])],
  });

/** A network that never ends: a loop of as many turns as there are numbers. */
export const endless = (size: number): Buffer => {
  const body = [
    ...bytes(1, node('Identity', ['going'], 'goes')),
    ...bytes(1, node('Identity', ['x'], 'y')),
    ...text(2, 'body'),
    ...bytes(11, valueInfo('turn', INT64, [])),
    ...bytes(11, valueInfo('going', BOOL, [])),
    ...bytes(11, valueInfo('x', FLOAT, [1, 3, size, size])),
    ...bytes(12, valueInfo('goes', BOOL, [])),
    ...bytes(12, valueInfo('y', FLOAT, [1, 3, size, size])),
  ];
  return onnx({
    input: [1, 3, size, size],
    output: [1, 3, size, size],
    nodes: [node('Loop', ['turns', 'on', 'picture'], 'depth', [graphAttribute('body', body)])],
    constants: [int64('turns', 2n ** 62n), bool('on')],
  });
};
