"""Networks of laid bricks solved with ngspice (batch mode), from the netlists that the program itself writes.

Needs: ngspice on the path, the program built (cargo build). Plans: the hedge shears of the demo, and a staggered 4S5P whose
twenty cells were read one by one. Written: <name>.cir and results.json with the solver's version.
"""
import json, os, re, subprocess, tempfile

here = os.path.dirname(os.path.abspath(__file__))
root = os.path.join(here, "..", "..")
program = os.path.join(root, "target", "debug", "dense-brick")
out = {"solver": re.search(r"ngspice-\S+", subprocess.run(["ngspice", "--version"], capture_output=True, text=True).stdout).group(0), "cases": []}
for name in ("two_side_by_side", "five_staggered"):
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run([program, "brick", os.path.join(here, name + ".brick.json"), "--files", folder], check=True, capture_output=True)
        with open(os.path.join(folder, "network.cir")) as f:
            net = f.read()
        with open(os.path.join(here, name + ".cir"), "w") as f:
            f.write(net)
        cells = re.findall(r"^V(\S+) ", net, re.M)
        strips = re.findall(r"^(R[SW]\d+) (\S+) (\S+) (\S+)$", net, re.M)
        nodes = sorted({n for s in strips for n in s[1:3] if n != "0"})
        control = ".options reltol=1e-9 abstol=1e-14 vntol=1e-12\n.control\nset numdgt=12\nop\n" + "\n".join(f"print i(v{c})" for c in cells) + "\n" + "\n".join(f"print v({n})" for n in nodes) + "\nquit\n.endc\n"
        with open(os.path.join(folder, "run.cir"), "w") as f:
            f.write(net.replace(".op\n", control))
        p = subprocess.run(["ngspice", "-b", "run.cir"], cwd=folder, capture_output=True, text=True)
        got = {m.group(1): float(m.group(2)) for m in re.finditer(r"^(\S+) = (\S+)$", p.stdout, re.M)}
        v = {n: got[f"v({n})"] for n in nodes} | {"0": 0.0}
        out["cases"].append({"name": name, "pack_v": v["pack"],
            "cell_a": {c: -got[f"i(v{c})"] for c in cells},
            "strip_a": {s[0]: (v[s[1]] - v[s[2]]) / float(s[3]) for s in strips}})
with open(os.path.join(here, "results.json"), "w") as f:
    json.dump(out, f, indent=1)
    f.write("\n")
