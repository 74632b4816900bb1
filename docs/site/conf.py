"""The documentation as a site; scripts/docs.sh lays its pages out and calls Sphinx."""
import os
import re

project = 'Vast Turn'
author = 'the authors of Vast Turn'
release = os.environ['VAST_TURN_VERSION']
extensions = ['myst_parser']
myst_enable_extensions = ['deflist']
myst_heading_anchors = 4
source_suffix = {'.md': 'markdown'}
exclude_patterns = ['examples/**', 'data/**', 'tests/**', 'src/**', 'scripts/**', 'web/**', 'bench/**']
html_theme = 'furo'
html_title = f'Vast Turn {release}'
html_copy_source = False
html_show_sphinx = False
html_last_updated_fmt = None
html_theme_options = {
    'light_css_variables': {'color-brand-primary': '#1f6a3f', 'color-brand-content': '#1f6a3f'},
    'dark_css_variables': {'color-brand-primary': '#1f6a3f', 'color-brand-content': '#1f6a3f'}, # the theme as packaged stays light
}
highlight_language = 'none'
pygments_style = pygments_dark_style = 'default'
# Fenced blocks of our own: what they hold is shown as it is.
BLOCKS = ('plan', 'console', 'looks', 'robot', 'chip', 'course', 'calibration')


def prepare(app, name, source):
    """What the pages say to whoever reads them in the tree, as a site says it."""
    text = source[0]
    text = re.sub(r'^```file (\S+)$', r'`\1`:\n\n```text', text, flags=re.M)
    text = re.sub(rf'^```({"|".join(BLOCKS)})\b.*$', '```text', text, flags=re.M)
    here = os.path.dirname(os.path.join(app.srcdir, name))

    def link(match):
        target = match.group(2).split('#')[0]
        is_file = os.path.isfile(os.path.join(here, target))
        return match.group(0) if is_file or not target or '://' in target else match.group(1)

    source[0] = re.sub(r'(?<!!)\[([^]]+)\]\(([^)\s]+)\)', link, text)


def setup(app):
    app.connect('source-read', prepare)
    return {'parallel_read_safe': True}
