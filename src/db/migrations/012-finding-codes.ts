import type { Migration } from '../migrate';

/** Findings are kept as codes with facts. Those that were kept in words stay as they were said, also in steps that can be undone. */
export const findingCodes: Migration = {
  name: '012-finding-codes',
  sql: `
    CREATE FUNCTION pg_temp.coded(findings jsonb) RETURNS jsonb LANGUAGE sql AS $$
      SELECT coalesce(jsonb_agg(
        CASE WHEN found->'code' IS NOT NULL THEN found ELSE jsonb_strip_nulls(jsonb_build_object(
          'state', found->'state',
          'code', 'change.told',
          'facts', jsonb_build_object(
            'what', found->'what', 'why', found->'why',
            'mend', found->'mend'->'label', 'also', found->'also'->'label'),
          'mend', found->'mend'->'name',
          'also', found->'also'->'name')) END ORDER BY place), '[]')
      FROM jsonb_array_elements(findings) WITH ORDINALITY AS each(found, place)
    $$;
    CREATE FUNCTION pg_temp.coded_side(state jsonb, side text) RETURNS jsonb LANGUAGE sql AS $$
      SELECT CASE WHEN jsonb_typeof(state->side->'findings') = 'array'
        THEN jsonb_set(state, ARRAY[side, 'findings'], pg_temp.coded(state->side->'findings')) ELSE state END
    $$;
    UPDATE changes SET findings = pg_temp.coded(findings) WHERE jsonb_typeof(findings) = 'array';
    UPDATE steps SET states = (
      SELECT coalesce(jsonb_agg(pg_temp.coded_side(pg_temp.coded_side(state, 'before'), 'after') ORDER BY place), '[]')
      FROM jsonb_array_elements(states) WITH ORDINALITY AS each(state, place)
    ) WHERE jsonb_typeof(states) = 'array';
  `,
};
