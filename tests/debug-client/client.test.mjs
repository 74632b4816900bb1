// The debug adapter as a client of the protocol sees it that nobody here wrote.
//
//     node --test tests/debug-client     from the root, after `npm ci` there; VTURN names the program
import assert from 'node:assert/strict';
import path from 'node:path';
import { afterEach, beforeEach, test } from 'node:test';
import { fileURLToPath } from 'node:url';

import { DebugClient } from '@vscode/debugadapter-testsupport';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');
const program = process.env.VTURN ?? path.join(root, 'build/release/apps/vturn/vturn');
const house = path.join(root, 'data/fern-house');
const plan = path.join(house, 'rounds.plan');
const launch = {
  course: path.join(house, 'glass-wing.course.toml'),
  robot: path.join(house, 'sprig-5.robot.toml'),
  plan,
};

let client;

beforeEach(async () => {
  client = new DebugClient(program, 'debug-adapter', 'vturn');
  client.defaultTimeout = 60000; // also on a machine that is busy
  await client.start();
});
afterEach(() => client.stop());

/// The values of one scope of the innermost block, by name.
async function values(scope) {
  const stack = await client.stackTraceRequest({ threadId: 1 });
  const scopes = await client.scopesRequest({ frameId: stack.body.stackFrames[0].id });
  const found = scopes.body.scopes.find((one) => one.name === scope);
  const list = await client.variablesRequest({ variablesReference: found.variablesReference });
  return Object.fromEntries(list.body.variables.map((one) => [one.name, one.value]));
}

test('a plan that halts runs to its end', async () => {
  const [, exited] = await Promise.all([
    client.configurationSequence(),
    client.waitForEvent('exited'),
    client.launch(launch),
    client.waitForEvent('terminated'),
  ]);
  assert.equal(exited.body.exitCode, 0);
});

test('it stops at a break point on a line, and there is the stack of blocks in hand', async () => {
  await client.hitBreakpoint(launch, { path: plan, line: 31 });
  const stack = await client.stackTraceRequest({ threadId: 1 });
  assert.deepEqual(
    stack.body.stackFrames.map((frame) => frame.name),
    ['take', 'follow'],
  );
  assert.equal((await values('Block')).way, 'left');
  assert.match((await values('Inputs')).range, /mm$/);
});

test('a break point on a line where nothing acts moves to the next', async () => {
  await client.hitBreakpoint(launch, { path: plan, line: 30 }, { path: plan, line: 31 }, { path: plan, line: 31 });
});

test('looks are stepped on and back', async () => {
  await client.hitBreakpoint(launch, { path: plan, line: 31 });
  const clock = async () => Number.parseFloat((await values('Inputs')).clock);
  const before = await clock();
  await Promise.all([client.waitForEvent('stopped'), client.nextRequest({ threadId: 1 })]);
  assert.equal(await clock(), before + 12);
  await Promise.all([client.waitForEvent('stopped'), client.stepBackRequest({ threadId: 1 })]);
  assert.equal(await clock(), before);
  await Promise.all([client.waitForEvent('stopped'), client.reverseContinueRequest({ threadId: 1 })]);
  assert.equal(await clock(), 0);
});

test('a reading is set, and the plan decides anew', async () => {
  await Promise.all([
    client.launch({ ...launch, stopOnEntry: true }),
    client.configurationSequence(),
    client.waitForEvent('stopped'),
  ]);
  const before = await client.stackTraceRequest({ threadId: 1 });
  const set = await client.setVariableRequest({ variablesReference: 1, name: 'sensor(2)', value: '1' });
  assert.equal(set.body.value, '1.000');
  const after = await client.stackTraceRequest({ threadId: 1 });
  assert.equal(before.body.stackFrames[0].line, 21);
  assert.equal(after.body.stackFrames[0].line, 22);
  assert.equal((await client.evaluateRequest({ expression: '[.##..]' })).body.result, 'true');
});

test('a launch that cannot be is refused with its reason', async () => {
  await client.initializeRequest();
  await assert.rejects(client.launchRequest({ ...launch, plan: path.join(house, 'gentle.plan') }), /2 line sensors/);
  await assert.rejects(client.launchRequest({ ...launch, course: 'nowhere' }), /cannot be read/);
});
