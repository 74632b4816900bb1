#!/usr/bin/env python3
"""How long the language server takes to answer, as its client sees it.

    bench/language.py build/release/apps/vturn/vturn

Opens every plan of the demo, then a plan of 2,000 lines; asks each kind of question in its middle and types a letter
there, three times. Prints the slowest of each in milliseconds; of an edit the time until its problems are told.
"""
import glob
import json
import pathlib
import queue
import subprocess
import sys
import threading
import time

HOUSE = pathlib.Path(__file__).resolve().parent.parent / 'data' / 'fern-house'
AT_PLACE = ['hover', 'completion', 'definition', 'documentHighlight', 'signatureHelp', 'prepareRename']
OF_TEXT = ['documentSymbol', 'foldingRange', 'semanticTokens/full', 'formatting']


class Client:
    def __init__(self, vturn):
        self.server = subprocess.Popen([vturn, 'language-server'], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
        self.answers, self.told, self.last = queue.Queue(), queue.Queue(), 0
        threading.Thread(target=self.read, daemon=True).start()
        self.ask('initialize', {'capabilities': {}})
        self.tell('initialized', {})

    def read(self):
        out = self.server.stdout
        while line := out.readline():
            length = int(line.split(b':')[1])
            out.readline()
            message = json.loads(out.read(length))
            (self.told if 'method' in message else self.answers).put(message)

    def send(self, message):
        text = json.dumps({'jsonrpc': '2.0', **message}).encode()
        self.server.stdin.write(b'Content-Length: %d\r\n\r\n' % len(text) + text)
        self.server.stdin.flush()

    def tell(self, method, params):
        self.send({'method': method, 'params': params})

    def ask(self, method, params):
        self.last += 1
        began = time.perf_counter()
        self.send({'id': self.last, 'method': method, 'params': params})
        assert self.answers.get(timeout=60)['id'] == self.last
        return 1000 * (time.perf_counter() - began)


def long_plan(lines):
    text, k = 'plan "long"\nsensors 5\nmarkers amber, teal\n\nlet cruise = 44\nvar laps = 0\n\nhabit start {\n    else -> do h0\n}\n', 0
    while text.count('\n') < lines:
        last = text.count('\n') > lines - 40
        text += f'\nhabit h{k} {{\n'
        for i in range(14):
            text += f'    [{"#" if i % 2 else "."}.#{"." if i % 3 else "#"}?] and laps > {i} -> bend({i + k % 7}, cruise)\n'
        text += f'    fresh amber -> do e{k}\n    else -> keep\n}}\n\nerrand e{k} {{\n    ahead(30) over {10 + k}mm\n'
        text += '    rotate(left, 31) till fresh [..#..] or turned > 90deg\n'
        text += '}\n' if last else f'    do h{k + 1} over 40mm\n}}\n'
        k += 1
        if last:
            break
    return text


def slowest(vturn, path, text):
    client, worst = Client(vturn), {}
    uri = f'file://{path}'
    client.tell('textDocument/didOpen', {'textDocument': {'uri': uri, 'languageId': 'plan', 'version': 1, 'text': text}})
    middle = {'line': text.count('\n') // 2, 'character': 12}
    client.told.get(timeout=60)
    for turn in range(3):
        for method in AT_PLACE:
            worst[method] = max(worst.get(method, 0), client.ask('textDocument/' + method, {'textDocument': {'uri': uri}, 'position': middle}))
        for method in OF_TEXT:
            worst[method] = max(worst.get(method, 0), client.ask('textDocument/' + method, {'textDocument': {'uri': uri}, 'options': {}}))
        time.sleep(0.5)
        while not client.told.empty():
            client.told.get()
        began = time.perf_counter()
        client.tell('textDocument/didChange', {'textDocument': {'uri': uri, 'version': turn + 2},
                                               'contentChanges': [{'range': {'start': middle, 'end': middle}, 'text': ' '}]})
        while client.told.get(timeout=60)['params']['version'] != turn + 2:
            pass
        worst['edit'] = max(worst.get('edit', 0), 1000 * (time.perf_counter() - began))
    client.ask('shutdown', {})
    client.tell('exit', {})
    client.server.wait(timeout=60)
    return worst


def main():
    vturn = sys.argv[1]
    plans = sorted(glob.glob(f'{HOUSE}/**/*.plan', recursive=True))
    worst = {}
    for path in plans:
        for what, ms in slowest(vturn, path, pathlib.Path(path).read_text()).items():
            worst[what] = max(worst.get(what, 0), ms)
    print(f'{len(plans)} plans of the demo: ' + ', '.join(f'{what} {ms:.1f}' for what, ms in worst.items()))
    text = long_plan(2000)
    print(f'{text.count(chr(10))} lines: ' + ', '.join(f'{what} {ms:.1f}' for what, ms in slowest(vturn, '/nowhere/long.plan', text).items()))


main()
