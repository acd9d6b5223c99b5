"""Cell holders as STL files of the program, read by trimesh: are they closed, consistently wound, how large?

Needs: trimesh, the program built. Plans: the shears' pack with 1.2 mm between cells in a roomy box, on a square and on a
staggered lattice (the tests lay the same out). Written: results.json with the library's version.
"""
import json, os, subprocess, tempfile
import trimesh

here = os.path.dirname(os.path.abspath(__file__))
root = os.path.join(here, "..", "..")
program = os.path.join(root, "target", "debug", "dense-brick")
with open(os.path.join(root, "demo", "plans", "hedge-shears.brick.json")) as f:
    plan = json.load(f)
brick = plan["packs"][0]["brick"]
brick["clearances"]["gap_mm"] = 1.2
brick["layout"], brick["compartment"] = None, None
place = plan["device"]["compartments"][0]
plan["device"]["compartments"] = [place]
place["obstructions"] = []
place["space"] = {"shape": "box", "length_mm": 120, "width_mm": 120, "depth_mm": 90}
out = {"library": "trimesh " + trimesh.__version__, "holders": {}}
with tempfile.TemporaryDirectory() as folder:
    at = os.path.join(folder, "a.brick.json")
    def run(*more):
        with open(at, "w") as f:
            json.dump(plan, f)
        return subprocess.run([program, "brick", at, *more], check=True, capture_output=True, text=True).stdout
    offers = json.loads(run())["options"]
    for lattice in ("square", "staggered"):
        brick["layout"] = next(o["arrangement"]["layout"] for o in offers if o["arrangement"]["fits"] and o["arrangement"]["layout"]["lattice"] == lattice)
        run("--files", folder)
        brick["layout"] = None
        mesh = trimesh.load(os.path.join(folder, "holder.stl"))
        out["holders"][lattice] = {"watertight": bool(mesh.is_watertight), "winding_consistent": bool(mesh.is_winding_consistent),
            "triangles": len(mesh.faces), "volume_mm3": float(mesh.volume), "size_mm": [float(x) for x in mesh.extents], "euler": int(mesh.euler_number)}
with open(os.path.join(here, "results.json"), "w") as f:
    json.dump(out, f, indent=1)
    f.write("\n")
