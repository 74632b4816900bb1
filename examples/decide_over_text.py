#!/usr/bin/env python3
"""Decides in the place of a two-sensor plan, over lines of text: any program in any language can (docs/on-the-robot.md).

  vturn run COURSE ROBOT PLAN --on 'python3 examples/decide_over_text.py'
"""
import sys

print("left_pct,right_pct,halted", flush=True)
names = sys.stdin.readline().strip().split(",")
on_pad = 0
for row in sys.stdin:
    look = dict(zip(names, row.strip().split(",")))
    on_pad = on_pad + 1 if look["pattern"] == "##" else 0
    left, right = {"#.": (-24, 47), ".#": (47, -24), "##": (-24, 47)}.get(look["pattern"], (47, 47))
    print(f"{left},{right},{int(on_pad >= 14)}", flush=True)
