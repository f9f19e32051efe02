"""Run one bout with forty seeds and ask a table which attack is stronger."""

import pandas as pd
from matplotlib.figure import Figure

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
runs = [ew.run(rules, "quarrel", seed=seed).table().assign(seed=seed) for seed in range(40)]
events = pd.concat(runs, ignore_index=True)

wounds = events[events["type"] == "wounded"]
print(wounds.groupby("attack")["amount"].agg(["count", "mean", "sum"]))
print()
print(pd.crosstab(wounds["attack"], wounds["hurtbox"]))
print()
kills = events[events["type"] == "died"].groupby("by").size()
print("kills in 40 duels:", kills.to_dict())

health = wounds.assign(second=wounds["time"].astype(int)).pivot_table(
    index="second", columns="attack", values="amount", aggfunc="sum", fill_value=0
)
figure = Figure(figsize=(12.8, 8), layout="constrained")
axes = figure.subplots()
(health / 40).plot.bar(ax=axes, rot=0, color=["#7a7a7a", "#d8b365"], edgecolor="black")
for bar in axes.containers[1]:
    bar.set_hatch("//")
axes.set(
    xlabel="second of the bout", ylabel="damage of a bout (points)", title="Damage second by second, mean of 40 bouts"
)
axes.legend(title="attack")
ew.draw.write_figure(figure, "damage.png")
