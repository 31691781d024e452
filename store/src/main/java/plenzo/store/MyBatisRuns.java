package plenzo.store;

import java.time.Duration;
import java.util.List;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.keeping.Kept.RunShelf;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Sight;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.run.RunState;

/** Runs. */
final class MyBatisRuns extends MyBatisShelf<Run> implements RunShelf {
  MyBatisRuns(RecordMapper mapper, Description<Run> as, Touched touched, ReadBefore before) {
    super(mapper, Table.RUN, as, touched, before);
  }

  private void beside(Run r) {
    mapper().headRun(RunRow.of(r));
  }

  @Override
  public void insert(Run r) {
    super.insert(r);
    beside(r);
  }

  @Override
  public boolean update(Run r) {
    if (!super.update(r)) {
      return false;
    }
    beside(r);
    return true;
  }

  @Override
  public Slice<RunHead> heads(Filter filter, Sight sight) {
    return Parts.of(filter, sight, mapper()::runHeads, RunRow::ordinal).map(RunRow::head);
  }

  @Override
  public List<Run> of(long promotion) {
    return mapper().runsOf(String.valueOf(promotion)).stream().map(this::record).toList();
  }

  @Override
  public Duration took(RunState ended) {
    return Duration.ofMillis(mapper().runsTook(ended.code()));
  }

  /** Brings those of an earlier Plenzo into the present form. */
  void bringUp() {
    rewrite(this::beside);
  }
}
