#!/usr/bin/python3
"""Draws the same aisle with several drawing programs, as people would, for the tests to read back.

  tests/drawings/make.py [PROGRAM...]

writes tests/drawings/PROGRAM.svg for each program that is installed:
Debian's libreoffice-draw, python3-matplotlib, python3-cairo, graphviz, gnuplot-nox, fig2dev, ipe, dia.

The aisle lies on a board of 600 x 390 mm: a line of 19 mm from (60,120) to (540,120), one that leaves it
at (300,120) for (300,330) with a gap from y = 200 to 240, and an amber plate of 46 x 38 mm over the first
line at (450,120).
"""

import pathlib
import shutil
import subprocess
import sys
import tempfile

HERE = pathlib.Path(__file__).resolve().parent
WIDE, HIGH = 600.0, 390.0
LINES = [((60, 120), (540, 120)), ((300, 120), (300, 200)), ((300, 240), (300, 330))]
PLATE = (427, 101, 46, 38)  # x, y, width, height
FLOOR, LINE, AMBER = "#EDEAE2", "#1B1B1B", "#E69A17"
PT = 72 / 25.4  # points a millimetre


def run(*words, **more):
    subprocess.run([str(w) for w in words], check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, **more)


def libreoffice(out, folder):
    def shape(kind, style, x1, y1, x2, y2):
        if kind == "line":
            where = f'svg:x1="{x1}mm" svg:y1="{y1}mm" svg:x2="{x2}mm" svg:y2="{y2}mm"'
        else:
            where = f'svg:x="{x1}mm" svg:y="{y1}mm" svg:width="{x2}mm" svg:height="{y2}mm"'
        return f'<draw:{kind} draw:style-name="{style}" draw:layer="layout" {where}/>'

    body = shape("rect", "floor", 0, 0, WIDE, HIGH)
    body += "".join(shape("line", "tape", *a, *b) for a, b in LINES)
    body += shape("rect", "plate", *PLATE)
    names = " ".join(
        f'xmlns:{p}="urn:oasis:names:tc:opendocument:xmlns:{n}:1.0"'
        for p, n in [("office", "office"), ("style", "style"), ("draw", "drawing"),
                     ("fo", "xsl-fo-compatible"), ("svg", "svg-compatible")])

    def fill(name, colour):
        return (f'<style:style style:name="{name}" style:family="graphic"><style:graphic-properties '
                f'draw:stroke="none" draw:fill="solid" draw:fill-color="{colour}"/></style:style>')

    source = folder / "aisle.fodg"
    source.write_text(
        f'<?xml version="1.0" encoding="UTF-8"?><office:document {names} office:version="1.2" '
        'office:mimetype="application/vnd.oasis.opendocument.graphics"><office:styles/><office:automatic-styles>'
        f'<style:page-layout style:name="page"><style:page-layout-properties fo:page-width="{WIDE}mm" '
        f'fo:page-height="{HIGH}mm" fo:margin-top="0mm" fo:margin-bottom="0mm" fo:margin-left="0mm" '
        'fo:margin-right="0mm" style:print-orientation="landscape"/></style:page-layout>'
        f'<style:style style:name="tape" style:family="graphic"><style:graphic-properties draw:stroke="solid" '
        f'svg:stroke-width="19mm" svg:stroke-color="{LINE}" svg:stroke-linecap="butt"/></style:style>'
        + fill("floor", FLOOR) + fill("plate", AMBER) +
        '</office:automatic-styles><office:master-styles><style:master-page style:name="master" '
        'style:page-layout-name="page"/></office:master-styles><office:body><office:drawing>'
        f'<draw:page draw:name="page1" draw:master-page-name="master">{body}</draw:page>'
        '</office:drawing></office:body></office:document>')
    run("soffice", "--headless", f"-env:UserInstallation=file://{folder}/profile", "--convert-to", "svg", "--outdir",
        folder, source)
    shutil.move(folder / "aisle.svg", out)


def matplotlib(out, folder):
    script = folder / "aisle.py"
    script.write_text(f"""
import matplotlib
matplotlib.use("svg")
matplotlib.rcParams["svg.hashsalt"] = "aisle"
import matplotlib.pyplot as plt
figure = plt.figure(figsize=({WIDE / 25.4}, {HIGH / 25.4}), facecolor="{FLOOR}")
axes = figure.add_axes([0, 0, 1, 1])
axes.set_xlim(0, {WIDE})
axes.set_ylim({HIGH}, 0)
axes.axis("off")
for a, b in {LINES!r}:
    axes.plot([a[0], b[0]], [a[1], b[1]], color="{LINE}", linewidth={19 * PT}, solid_capstyle="butt")
axes.add_patch(plt.Rectangle({PLATE[:2]!r}, {PLATE[2]}, {PLATE[3]}, facecolor="{AMBER}", edgecolor="none", zorder=9))
figure.savefig({str(out)!r}, facecolor=figure.get_facecolor(), metadata={{"Date": None}})
""")
    run("/usr/bin/python3", script)


def cairo(out, folder):
    script = folder / "aisle.py"
    script.write_text(f"""
import cairo
surface = cairo.SVGSurface({str(out)!r}, {WIDE * PT}, {HIGH * PT})
c = cairo.Context(surface)
c.scale({PT}, {PT})
def use(colour):
    c.set_source_rgb(*[int(colour[i:i + 2], 16) / 255 for i in (1, 3, 5)])
use("{FLOOR}")
c.paint()
use("{LINE}")
c.set_line_width(19)
for a, b in {LINES!r}:
    c.move_to(*a)
    c.line_to(*b)
    c.stroke()
use("{AMBER}")
c.rectangle(*{PLATE!r})
c.fill()
surface.finish()
""")
    run("/usr/bin/python3", script)


def graphviz(out, folder):
    def at(x, y):
        return f'pos="{x * PT},{(HIGH - y) * PT}"'

    points, edges = [], []
    for i, (a, b) in enumerate(LINES):
        points += [f'a{i} [{at(*a)}]', f'b{i} [{at(*b)}]']
        edges.append(f"a{i} -- b{i}")
    x, y, w, h = PLATE
    source = folder / "aisle.dot"
    source.write_text(
        f'graph aisle {{ bgcolor="{FLOOR}"; pad=0; splines=line; outputorder=edgesfirst;\n'
        'node [label="", shape=none, width=0, height=0, fixedsize=true, margin=0];\n'
        f'edge [penwidth={19 * PT}, color="{LINE}", headclip=false, tailclip=false];\n'
        f'nw [{at(0, 0)}]; se [{at(WIDE, HIGH)}];\n' + "; ".join(points + edges) +
        f';\nplate [{at(x + w / 2, y + h / 2)}, shape=box, style=filled, fillcolor="{AMBER}", color="{AMBER}", '
        f'penwidth=0, width={w / 25.4}, height={h / 25.4}];\n}}\n')
    run("neato", "-n2", "-Tsvg", f"-o{out}", source)


def gnuplot(out, folder):
    source = folder / "aisle.gp"
    x, y, w, h = PLATE
    source.write_text(
        f'set terminal svg size {WIDE * 2:.0f},{HIGH * 2:.0f} background "{FLOOR}" butt\nset output "{out}"\n'
        "set margins 0,0,0,0\nunset key\nunset border\nunset tics\n"
        f"set xrange [0:{WIDE}]\nset yrange [{HIGH}:0]\n"
        f'set object 1 rect from {x},{y} to {x + w},{y + h} fs solid noborder fc rgb "{AMBER}" front\n'
        f'$aisle << END\n' + "\n\n".join(f"{a[0]} {a[1]}\n{b[0]} {b[1]}" for a, b in LINES) + "\nEND\n"
        f'plot $aisle with lines lc rgb "{LINE}" lw 38\n')
    run("gnuplot", source)


def fig2dev(out, folder):
    unit = 1200 / 25.4

    def line(a, b):
        return (f"2 1 0 60 32 7 50 -1 -1 0.000 0 0 -1 0 0 2\n\t "
                f"{a[0] * unit:.0f} {a[1] * unit:.0f} {b[0] * unit:.0f} {b[1] * unit:.0f}\n")

    def box(x, y, w, h, colour, depth):
        corners = [(x, y), (x + w, y), (x + w, y + h), (x, y + h), (x, y)]
        return (f"2 2 0 0 {colour} {colour} {depth} -1 20 0.000 0 0 -1 0 0 5\n\t " +
                " ".join(f"{px * unit:.0f} {py * unit:.0f}" for px, py in corners) + "\n")

    source = folder / "aisle.fig"
    source.write_text("#FIG 3.2\nLandscape\nCenter\nInches\nA4\n100.00\nSingle\n-2\n1200 2\n"
                      f"0 32 {LINE}\n0 33 {FLOOR}\n0 34 {AMBER}\n" + box(0, 0, WIDE, HIGH, 33, 90) +
                      "".join(line(a, b) for a, b in LINES) + box(*PLATE, 34, 20))
    run("fig2dev", "-L", "svg", source, out)


def ipe(out, folder):
    def colour(text):
        return " ".join(f"{int(text[i:i + 2], 16) / 255:.6f}" for i in (1, 3, 5))

    def box(x, y, w, h, fill):
        top, bottom = (HIGH - y) * PT, (HIGH - y - h) * PT
        return (f'<path fill="{colour(fill)}">{x * PT} {top} m {(x + w) * PT} {top} l {(x + w) * PT} {bottom} l '
                f'{x * PT} {bottom} l h</path>\n')

    lines = "".join(
        f'<path stroke="{colour(LINE)}" pen="{19 * PT}">{a[0] * PT} {(HIGH - a[1]) * PT} m {b[0] * PT} '
        f'{(HIGH - b[1]) * PT} l</path>\n' for a, b in LINES)
    source = folder / "aisle.ipe"
    source.write_text('<?xml version="1.0"?><!DOCTYPE ipe SYSTEM "ipe.dtd"><ipe version="70218" creator="Ipe 7">'
                      f'<ipestyle name="board"><layout paper="{WIDE * PT} {HIGH * PT}" origin="0 0" '
                      f'frame="{WIDE * PT} {HIGH * PT}" crop="no"/></ipestyle>'
                      '<page><layer name="alpha"/><view layers="alpha" active="alpha"/>' +
                      box(0, 0, WIDE, HIGH, FLOOR) + lines + box(*PLATE, AMBER) + "</page></ipe>")
    run("iperender", "-svg", source, out)


def dia(out, folder):
    cm = 0.1

    def line(i, a, b):
        return (f'<dia:object type="Standard - Line" version="0" id="L{i}">'
                f'<dia:attribute name="conn_endpoints"><dia:point val="{a[0] * cm},{a[1] * cm}"/>'
                f'<dia:point val="{b[0] * cm},{b[1] * cm}"/></dia:attribute>'
                f'<dia:attribute name="line_color"><dia:color val="{LINE}"/></dia:attribute>'
                f'<dia:attribute name="line_width"><dia:real val="{19 * cm}"/></dia:attribute></dia:object>')

    def box(i, x, y, w, h, fill):
        return (f'<dia:object type="Standard - Box" version="0" id="B{i}"><dia:attribute name="elem_corner">'
                f'<dia:point val="{x * cm},{y * cm}"/></dia:attribute><dia:attribute name="elem_width">'
                f'<dia:real val="{w * cm}"/></dia:attribute><dia:attribute name="elem_height">'
                f'<dia:real val="{h * cm}"/></dia:attribute><dia:attribute name="border_width"><dia:real val="0"/>'
                f'</dia:attribute><dia:attribute name="border_color"><dia:color val="{fill}"/></dia:attribute>'
                f'<dia:attribute name="inner_color"><dia:color val="{fill}"/></dia:attribute>'
                '<dia:attribute name="show_background"><dia:boolean val="true"/></dia:attribute></dia:object>')

    source = folder / "aisle.dia"
    source.write_text('<?xml version="1.0" encoding="UTF-8"?><dia:diagram xmlns:dia="http://www.lysator.liu.se/~alla/dia/">'
                      '<dia:layer name="Background" visible="true">' + box(0, 0, 0, WIDE, HIGH, FLOOR) +
                      "".join(line(i, a, b) for i, (a, b) in enumerate(LINES)) + box(1, *PLATE, AMBER) +
                      "</dia:layer></dia:diagram>")
    run("dia", "-n", "-e", out, "-t", "svg", source)


PROGRAMS = [libreoffice, matplotlib, cairo, graphviz, gnuplot, fig2dev, ipe, dia]


def main():
    wanted = sys.argv[1:] or [p.__name__ for p in PROGRAMS]
    for program in PROGRAMS:
        if program.__name__ not in wanted:
            continue
        with tempfile.TemporaryDirectory() as folder:
            out = HERE / f"{program.__name__}.svg"
            try:
                program(out, pathlib.Path(folder))
                print(f"{out.name}: {out.stat().st_size} bytes")
            except (OSError, subprocess.CalledProcessError) as fault:
                print(f"{out.name}: not drawn: {fault}", file=sys.stderr)


if __name__ == "__main__":
    main()
