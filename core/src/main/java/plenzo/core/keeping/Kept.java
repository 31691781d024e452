package plenzo.core.keeping;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Release;
import plenzo.core.run.Journal;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.Run;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Application;
import plenzo.core.stage.Binding;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.trust.Parcel;
import plenzo.core.trust.Signer;
import plenzo.core.version.Draft;

/** The records inside one transaction. Not for use after it, nor by another thread. */
public interface Kept {
  Shelf<Person> people();

  Shelf<AccessKey> accessKeys();

  Shelf<Stage> stages();

  Shelf<Connection> connections();

  Shelf<Secret> secrets();

  Shelf<Path> paths();

  Shelf<Application> applications();

  VersionShelf versions();

  Shelf<Draft> drafts();

  Shelf<SiteRecord> sites();

  Shelf<Promotion> promotions();

  Shelf<Run> runs();

  /** The run that brought what a site holds; empty when none did. */
  default Optional<Run> lastRun(SiteRecord record) {
    Long run = record.lastPlacement().map(SiteRecord.Placement::run).orElse(null);
    return run == null ? Optional.empty() : runs().find(String.valueOf(run));
  }

  Shelf<Capture> captures();

  Shelf<Binding> bindings();

  Shelf<Signer> signers();

  Shelf<Parcel> parcels();

  /** By application. */
  Shelf<SourceRecord> sources();

  Shelf<Release> releases();

  Shelf<Answered> answered();

  /** The next number of a series, without gaps when the transaction commits. */
  long next(String series);

  /** The number of a series that was given out last, 0 before the first. */
  long last(String series);

  /** Lets a series go on behind a number that was given out elsewhere; never goes back. */
  void raise(String series, long atLeast);

  /** A fact about the installation, empty when it was never said. */
  Optional<String> fact(String name);

  /** Says a fact, in place of an earlier one. */
  void fact(String name, String text);

  /** The newest entry of the history; number 0 and the start's hash before the first. */
  Anchor head();

  /** Adds one event to the chain. */
  HistoryEntry note(HistoryEntry.Event event, Instant at);

  /** Newest first. */
  List<HistoryEntry> history(HistoryFilter filter);

  /**
   * Adds an entry.
   *
   * @param entry its sequence is not looked at
   * @return the same with its sequence
   */
  JournalEntry journal(JournalEntry entry);

  /**
   * Forgets answers kept for calls that are repeated, and sessions and tokens that are over, both
   * of before a moment.
   *
   * @return how many records
   */
  int forget(Instant answers, Instant sessions, Instant tokens);

  /** Everything that a run journaled. */
  Journal journal(long run);

  /** One sort of record. Ids are the records' own: a key, a number, a name. */
  interface Shelf<T> {
    Optional<T> find(String id);

    /** Newest first, at most {@code filter.limit()}. */
    List<T> list(Filter filter);

    void insert(T record);

    /**
     * Replaces the record if nobody did meanwhile: false when its revision moved, and nothing was
     * written. A lost race is a value that the caller must look at.
     */
    boolean update(T record);

    /**
     * The same where losing the race undoes the whole transaction.
     *
     * @throws LostRace when its revision moved
     */
    default void replace(T record) {
      if (!update(record)) {
        throw new LostRace(record.getClass().getSimpleName());
      }
    }

    boolean remove(String id);

    default List<T> all() {
      return list(Filter.all());
    }
  }

  /** Which records; null means any. */
  record Filter(
      @Nullable String application,
      @Nullable String stage,
      @Nullable String site,
      @Nullable String state,
      int limit,
      int skip) {
    /** More than any list that people read needs (guess); bounds memory. */
    public static final int MOST = 10_000;

    public static Filter all() {
      return new Filter(null, null, null, null, MOST, 0);
    }

    /** The newest of an application at a site. */
    public static Filter at(String application, SiteKey site, int limit) {
      return new Filter(application, site.stage(), site.site(), null, limit, 0);
    }

    public static Filter application(String application) {
      return new Filter(application, null, null, null, MOST, 0);
    }

    public static Filter state(String state) {
      return new Filter(null, null, null, state, MOST, 0);
    }
  }

  /** Which events; null means any; {@code before} is a sequence number, 0 for the newest. */
  record HistoryFilter(
      @Nullable String application,
      @Nullable String stage,
      @Nullable String event,
      @Nullable String actor,
      @Nullable Instant until,
      long before,
      int limit) {}

  /** A connection's secret, encrypted; the plain value never comes here. */
  record Secret(String id, String cipher, String keyId, int revision) {}

  /** Object ids that were read with a component, to tell a rename. */
  record Capture(
      String id, long objectId, java.util.Map<String, Integer> attributes, int revision) {}

  /** The answer to a call that carried an idempotency key. */
  record Answered(String id, String body, int status, String answer, Instant at, int revision) {}
}
