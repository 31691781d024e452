package plenzo.engine.kit;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.target.RunMark;
import plenzo.core.target.RunSeen;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetIdentity;

/** What a scripted target remembers of itself and of runs; outlives every session. */
public final class Marks {
  private record Key(long run, int attempt) implements Comparable<Key> {
    @Override
    public int compareTo(Key o) {
      return Comparator.comparing(Key::run).thenComparing(Key::attempt).compare(this, o);
    }
  }

  private record Mark(RunMark told, boolean applied) {}

  private final Map<Key, Mark> marks = new TreeMap<>(Comparator.reverseOrder());
  @Nullable TargetIdentity identity;

  void apply(RunMark mark) {
    Key key = new Key(mark.run(), mark.attempt());
    if (marks.containsKey(key)) {
      throw new SwitchRefused(
          SwitchRefused.Why.REFUSED, "R-" + mark.run() + " is known here already", List.of());
    }
    marks.put(key, new Mark(mark, true));
  }

  /** A run of that number that another installation, or other records, brought here. */
  public void foreign(long run, String fingerprint) {
    marks.put(
        new Key(run, 1),
        new Mark(new RunMark(run, "switch", 1, "9.9.9", fingerprint, "x", null), true));
  }

  void takeBack(RunMark mark) {
    marks.remove(new Key(mark.run(), mark.attempt()));
  }

  Settled settle(RunMark mark) {
    Mark known =
        marks.computeIfAbsent(
            new Key(mark.run(), mark.attempt()), key -> new Mark(mark, /* applied= */ false));
    if (!known.told().fingerprint().equals(mark.fingerprint())) {
      return Settled.ANOTHER;
    }
    return known.applied() ? Settled.APPLIED : Settled.VOID;
  }

  boolean known(long run) {
    return marks.keySet().stream().anyMatch(k -> k.run() == run);
  }

  List<RunSeen> runs(int limit) {
    List<RunSeen> out = new ArrayList<>();
    for (Mark m : marks.values()) {
      if (m.applied() && out.size() < limit) {
        RunMark t = m.told();
        out.add(new RunSeen(t.run(), t.version(), t.fingerprint(), t.anchor()));
      }
    }
    return out;
  }
}
