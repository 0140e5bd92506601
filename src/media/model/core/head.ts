/** What the head of a file of this medium tells, enough for a row of a list. */
export interface ModelHead {
  readonly sort: 'model';
  readonly format: string;
  readonly vertices: number;
  readonly triangles: number;
  readonly meshes?: number | undefined;
  readonly materials?: number | undefined;
  readonly clips?: number | undefined;
  readonly joints?: number | undefined;
}
