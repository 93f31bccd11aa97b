"""Holm's correction and a permutation test by other programs, for the tests beside this file.
Debian: python3-scipy python3-statsmodels. Run here: python3 reference.py"""
import json
import numpy, scipy, statsmodels
from scipy import stats
from statsmodels.stats.multitest import multipletests

ps = [[0.01, 0.04, 0.03, 0.005, 0.6], [0.2, 0.0001, 0.049, 0.049], [1.0, 1.0], [0.03]]
holm = [{"given": p, "corrected": [float(x) for x in multipletests(p, method="holm")[1]]} for p in ps]

# Weights and residuals of eight posts: all 40,320 ways of dealing the residuals out, sums of products at least as large as the one seen.
cases = []
for seed in (1, 2, 3):
    chance = numpy.random.default_rng(seed)
    a = numpy.round(chance.normal(size=8), 3)
    z = numpy.round(chance.normal(size=8) + a * (seed - 1) * 0.6, 3)
    seen = abs(a @ z)
    test = stats.permutation_test((z,), lambda x: abs(a @ x), permutation_type="pairings", n_resamples=numpy.inf,
                                  vectorized=False, alternative="greater")
    cases.append({"a": a.tolist(), "z": z.tolist(), "p": float(test.pvalue), "statistic": float(test.statistic)})

json.dump({"tools": {"numpy": numpy.__version__, "scipy": scipy.__version__, "statsmodels": statsmodels.__version__},
           "holm": holm, "permutation": cases}, open("reference.json", "w"), indent=1)
open("reference.json", "a").write("\n")
