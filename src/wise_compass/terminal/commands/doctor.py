"""What is amiss with this installation."""

from __future__ import annotations

import argparse

from wise_compass.terminal.shared.saying import json_option, print_json

SAYS = "Look at screen, fonts, printer, folders, logbook and environment, and say what would mend what is amiss."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("--about", action="store_true", help="tell versions, paths and settings instead")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    """Examine, or tell what there is."""
    if args.about:
        from wise_compass.care.about import about, about_text

        print_json({"about": dict(about())}) if args.json else print(about_text(), end="")
        return
    from wise_compass.care.doctor import examine

    findings = list(examine())
    if args.json:
        print_json({"findings": [one._asdict() for one in findings]})
        return
    for one in findings:
        print(f"{'well ' if one.good else 'AMISS'}  {one.what}: {one.says}.")
        if one.remedy:
            print(f"         {one.remedy}.")
    amiss = sum(not one.good for one in findings)
    print(f"\n{amiss or 'Nothing'} of {len(findings)} amiss." if amiss else "\nNothing is amiss.")
