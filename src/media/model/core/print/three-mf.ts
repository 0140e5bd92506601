import type { Solid } from './solid';

/** A file of an archive that is still to be packed. */
export interface PackedText {
  readonly path: string;
  readonly text: string;
}

const TYPES = `<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">
 <Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>
 <Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/>
</Types>
`;
const LINKS = `<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
 <Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/>
</Relationships>
`;

const escaped = (text: string): string =>
  // Signs that XML 1.0 has no way to write.

  text
    .replace(
      /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g,
      '',
    )
    .replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

/** The files of a 3MF package (3MF Core Specification 1.3): one object a piece, in millimetres, each where it lies on the bed. */
export function threeMfFiles(
  pieces: readonly { readonly name: string; readonly solid: Solid }[],
): PackedText[] {
  const objects: string[] = [];
  pieces.forEach(({ name, solid: { places, corners } }, i) => {
    objects.push(`  <object id="${i + 1}" type="model" name="${escaped(name)}"><mesh><vertices>\n`);
    for (let at = 0; at + 2 < places.length; at += 3)
      objects.push(`<vertex x="${places[at]}" y="${places[at + 1]}" z="${places[at + 2]}"/>\n`);
    objects.push('</vertices><triangles>\n');
    for (let at = 0; at + 2 < corners.length; at += 3)
      objects.push(`<triangle v1="${corners[at]}" v2="${corners[at + 1]}" v3="${corners[at + 2]}"/>\n`);
    objects.push('</triangles></mesh></object>\n');
  });
  const model = [
    '<?xml version="1.0" encoding="UTF-8"?>\n',
    '<model unit="millimeter" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">\n',
    ' <resources>\n',
    ...objects,
    ' </resources>\n <build>\n',
    ...pieces.map((_, i) => `  <item objectid="${i + 1}"/>\n`),
    ' </build>\n</model>\n',
  ];
  return [
    { path: '[Content_Types].xml', text: TYPES },
    { path: '_rels/.rels', text: LINKS },
    { path: '3D/3dmodel.model', text: model.join('') },
  ];
}
