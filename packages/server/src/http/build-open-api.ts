import { Fault, routes, UPLOAD_PATH, type Access, type Route } from '@apodix/core';
import { z } from 'zod';

const ACCESS_WORDS: Readonly<Record<Access, string>> = {
  anyone: 'Anyone.',
  person: 'Anyone who is signed in, guests included.',
  assignment: 'Students of its course, and its owner.',
  'own-assignment': 'Its owner.',
  'removed-assignment': 'Its owner, once it is removed.',
  'assignment-take': 'Who may work on the assignment, with a take of their own.',
  take: 'Its owner.',
  'removed-take': 'Its owner, once it is removed.',
  made: 'Its owner, and teachers of the course once it is handed in.',
  'own-made': 'Its owner.',
  'removed-made': 'Its owner, once it is removed.',
  job: 'Whose job it is.',
  receipt: 'Its owner, and teachers of the course.',
  card: 'Whose card it is, and their teachers.',
};

const MEDIA_TYPES: Readonly<Record<string, string>> = {
  followEvents: 'text/event-stream',
  readCalendar: 'text/calendar',
  readApi: 'application/json',
};

function describeSchema(schema: z.ZodType, io: 'input' | 'output'): object {
  // The dialect is that of the whole document.
  return { ...z.toJSONSchema(schema, { io, unrepresentable: 'any' }), $schema: undefined };
}

let built: object | null = null;

/** The routes of the contract as an OpenAPI 3.1 document (spec.openapis.org/oas/v3.1.0). */
export function buildOpenApi(): object {
  built ??= writeOpenApi();
  return built;
}

function writeOpenApi(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const [name, route] of Object.entries(routes) as [string, Route][]) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [route.method.toLowerCase()]: describeRoute(name, route) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Apodix',
      version: '1',
      description: `Uploads follow tus 1.0.0 under ${UPLOAD_PATH}; they are not in this table.`,
    },
    components: {
      schemas: { Fault: describeSchema(Fault, 'output') },
      securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'apodix_session' } },
    },
    paths,
  };
}

function describeRoute(name: string, route: Route): object {
  const parameters = [...route.path.matchAll(/:(\w+)/g)].map(([, key]) => ({
    name: key,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const content = route.answer
    ? { 'application/json': { schema: describeSchema(route.answer, 'output') } }
    : { [MEDIA_TYPES[name] ?? 'application/octet-stream']: {} };
  const fault = { $ref: '#/components/schemas/Fault' };
  return {
    operationId: name,
    summary: route.purpose,
    description: `Who may call it: ${ACCESS_WORDS[route.access]}`,
    security: route.access === 'anyone' ? [] : [{ session: [] }],
    ...(parameters.length > 0 ? { parameters } : {}),
    ...(route.body
      ? {
          requestBody: {
            required: true,
            content: { 'application/json': { schema: describeSchema(route.body, 'input') } },
          },
        }
      : {}),
    responses: {
      200: { description: 'Done.', content },
      default: {
        description: 'A fault, in words for the person who meets it.',
        content: { 'application/json': { schema: fault } },
      },
    },
  };
}
