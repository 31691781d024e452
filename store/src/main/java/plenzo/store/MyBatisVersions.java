package plenzo.store;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.keeping.Kept.Shelf;
import plenzo.core.keeping.Slice;
import plenzo.core.keeping.VersionShelf;
import plenzo.core.person.Sight;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;

/** Versions in two tables: what is said of each, and its components, so many a row. */
final class MyBatisVersions implements VersionShelf {
  /** Components in one row: bounds what is parsed at once. */
  private static final int A_ROW = 1000;

  /** Some components of one version, {@code fares@2.4.0#0} for the first of them. */
  record Entries(String id, List<VersionEntry> entries) {}

  private final MyBatisShelf<VersionHead> heads;
  private final Shelf<Entries> entries;

  MyBatisVersions(MyBatisShelf<VersionHead> heads, Shelf<Entries> entries) {
    this.heads = heads;
    this.entries = entries;
  }

  @Override
  public Optional<Version> find(String ref) {
    return heads.find(ref).map(head -> new Version(head, all(head)));
  }

  private static String row(VersionHead head, int from) {
    return head.ref() + "#" + from / A_ROW;
  }

  private List<VersionEntry> all(VersionHead head) {
    List<VersionEntry> out = new ArrayList<>(head.components());
    for (int from = 0; from < head.components(); from += A_ROW) {
      out.addAll(entries.find(row(head, from)).orElseThrow().entries());
    }
    return out;
  }

  @Override
  public Optional<VersionHead> head(String ref) {
    return heads.find(ref);
  }

  @Override
  public Slice<VersionHead> slice(Filter filter) {
    return heads.slice(filter, Sight.EVERYWHERE);
  }

  @Override
  public List<VersionHead> list(String application) {
    return heads.list(Filter.application(application));
  }

  @Override
  public List<VersionHead> numbered(String begins, int most) {
    return begins.matches("[0-9A-Za-z.-]+")
        ? heads.mapper().versionsNumbered("%@" + begins + "%", most).stream()
            .map(heads::record)
            .toList()
        : List.of();
  }

  @Override
  public void insert(Version version) {
    heads.insert(version.head());
    List<VersionEntry> all = version.entries();
    for (int from = 0; from < all.size(); from += A_ROW) {
      List<VersionEntry> some = all.subList(from, Math.min(from + A_ROW, all.size()));
      entries.insert(new Entries(row(version.head(), from), some));
    }
  }

  @Override
  public void update(VersionHead head) {
    if (!heads.update(head)) {
      throw new IllegalStateException(head.ref() + " is not there, or was changed before");
    }
  }
}
