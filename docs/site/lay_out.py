"""Lays out what Sphinx builds the site of, and makes the pages of the library's interface: lay_out.py FOLDER SITE, from the top of the tree. Pages go to FOLDER/pages, those of the
interface to SITE/api."""
import pathlib
import shutil
import subprocess
import sys

HEADERS = pathlib.Path('include/vast_turn')


def interface_pages(site):
    """Of the public headers, by doxygen; a warning fails."""
    settings = {
        'PROJECT_NAME': '"Vast Turn"', 'PROJECT_BRIEF': '"the library"', 'INPUT': f'{HEADERS} docs/site/library.md', 'USE_MDFILE_AS_MAINPAGE': 'docs/site/library.md',
        'RECURSIVE': 'YES', 'FILE_PATTERNS': '*.hpp', 'STRIP_FROM_PATH': 'include docs/site .', 'STRIP_FROM_INC_PATH': 'include', 'OUTPUT_DIRECTORY': site, 'HTML_OUTPUT': 'api',
        'GENERATE_LATEX': 'NO', 'JAVADOC_AUTOBRIEF': 'YES', 'EXTRACT_ALL': 'YES', 'INPUT_FILTER': '"sed -f docs/site/file-comment.sed"', 'HIDE_FRIEND_COMPOUNDS': 'YES', 'QUIET': 'YES', 'WARN_AS_ERROR': 'FAIL_ON_WARNINGS',
        'GENERATE_TREEVIEW': 'YES', 'HTML_COLORSTYLE_HUE': '140', 'HTML_COLORSTYLE_SAT': '60', 'HTML_TIMESTAMP': 'NO', 'SHOW_INCLUDE_FILES': 'NO', 'SORT_MEMBER_DOCS': 'NO', 'TOC_INCLUDE_HEADINGS': '2',
        'SOURCE_BROWSER': 'NO', 'HAVE_DOT': 'NO', 'CLASS_GRAPH': 'NO', 'VERBATIM_HEADERS': 'NO', 'ALPHABETICAL_INDEX': 'YES', 'DISABLE_INDEX': 'NO', 'FULL_SIDEBAR': 'YES',
    }
    run = subprocess.run(['doxygen', '-'], input='\n'.join(f'{key} = {value}' for key, value in settings.items()), text=True, capture_output=True)
    if run.returncode:
        sys.exit(run.stderr)


def main():
    work = pathlib.Path(sys.argv[1])
    pages = work / 'pages'
    pages.mkdir(parents=True)
    for name in ('README.md', 'CONTRIBUTING.md', 'CHANGELOG.md'):
        shutil.copy(name, pages)
    for name in ('editors', 'examples', 'data'):
        shutil.copytree(name, pages / name)
    shutil.copytree('docs', pages / 'docs', ignore=shutil.ignore_patterns('site'))
    for name in ('conf.py', 'index.md'):
        shutil.copy(pathlib.Path('docs/site', name), pages)
    library = pathlib.Path('docs/site/library.md').read_text()
    for name in ('load_course', 'load_robot', 'load_plan', 'Scene', 'drive', 'report_trips', 'vet'):
        library = library.replace(f'vast_turn::{name}()', f'`{name}`').replace(f'vast_turn::{name},', f'`{name}`,')
    (pages / 'library.md').write_text(library + '\n<a href="api/index.html">All headers and names</a>\n')
    interface_pages(sys.argv[2])


main()
