package plenzo.core.keeping;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Errand;
import plenzo.core.calendar.Freeze;
import plenzo.core.calendar.Repeat;
import plenzo.core.calendar.Schedule;
import plenzo.core.evidence.Evidence;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.person.Role;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionHead;
import plenzo.core.promotion.Release;
import plenzo.core.promotion.Waves;
import plenzo.core.proposal.Proposal;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.retention.Keeping;
import plenzo.core.run.Journal;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.run.RunState;
import plenzo.core.source.SourceCopies;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Application;
import plenzo.core.stage.Binding;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.telling.Call;
import plenzo.core.telling.CallOrder;
import plenzo.core.telling.Delivery;
import plenzo.core.telling.Following;
import plenzo.core.telling.Webhook;
import plenzo.core.trust.Parcel;
import plenzo.core.trust.Signer;
import plenzo.core.version.Draft;

/** The records inside one transaction. Not for use after it, nor by another thread. */
public interface Kept {
  Shelf<Person> people();

  Shelf<AccessKey> accessKeys();

  Shelf<Role> roles();

  Shelf<Stage> stages();

  Shelf<Connection> connections();

  Shelf<Secret> secrets();

  Shelf<Path> paths();

  Shelf<Application> applications();

  /**
   * One application, one out of use too.
   *
   * @throws Problem when there is none of the key
   */
  default Application application(String key) {
    return applications().find(key).orElseThrow(() -> Problem.notFound("application", key));
  }

  VersionShelf versions();

  Shelf<Draft> drafts();

  Shelf<SiteRecord> sites();

  PromotionShelf promotions();

  RunShelf runs();

  /** Runs at a site that have begun and not ended, the newest first. */
  default List<Run> underWay(String application, SiteKey site) {
    return runs()
        .list(
            Filter.at(application, site)
                .in(List.of(RunState.RUNNING.code(), RunState.PAUSED.code())));
  }

  /**
   * The run that brought what a site holds, or stopped while it did; empty when none did.
   *
   * @return of a half written site the run that one goes back from
   */
  default Optional<Run> lastRun(SiteRecord record) {
    Long run = record.lastPlacement().map(SiteRecord.Placement::run).orElse(null);
    return halfWritten(record)
        .or(() -> run == null ? Optional.empty() : runs().find(String.valueOf(run)));
  }

  /**
   * The run that left a site half written, when it was no way back: of a way back that stopped
   * between the targets, one goes back from the same version as before.
   */
  default Optional<Run> halfWritten(SiteRecord record) {
    if (!record.halfWritten()) {
      return Optional.empty();
    }
    Long last = record.lastPlacement().map(SiteRecord.Placement::run).orElse(null);
    Filter half =
        new Filter(
            record.application(),
            record.site().stage(),
            record.site().site(),
            List.of(RunState.HALF_WRITTEN.code()),
            0,
            Filter.MOST);
    return runs().list(half).stream()
        .filter(r -> last == null || r.number() > last)
        .filter(
            r ->
                promotions()
                    .find(String.valueOf(r.promotion()))
                    .filter(p -> !p.purpose().rollback())
                    .isPresent())
        .findFirst();
  }

  Shelf<Capture> captures();

  Shelf<Binding> bindings();

  Shelf<Signer> signers();

  Shelf<Parcel> parcels();

  /** By application. */
  Shelf<SourceRecord> sources();

  Shelf<Release> releases();

  /** Versions that go to several sites of a stage. */
  Shelf<Waves> waves();

  /** Files that show what was tried or done. */
  Shelf<Evidence> evidence();

  /** Plans that were carried out on copies. */
  Shelf<Rehearsal> rehearsals();

  /** Changes of what guards production. */
  Shelf<Proposal> proposals();

  /** Addresses that are told what happens. */
  Shelf<Webhook> webhooks();

  /** What is on its way to them. */
  Shelf<Delivery> deliveries();

  /** What people are told of, by their sign-in names. */
  Shelf<Following> followings();

  /** Who is called when something is wrong, by stage. */
  Shelf<CallOrder> callOrders();

  /** Somebody must come. */
  Shelf<Call> calls();

  /** Freezes of stages. */
  Shelf<Freeze> freezes();

  /** Runs that are to start by themselves. */
  Shelf<Schedule> schedules();

  /** Versions that go to a stage again and again. */
  Shelf<Repeat> repeats();

  /** Versions on their way without anybody starting that. */
  Shelf<Errand> errands();

  /** What stays by a note, and what was cleared. */
  Shelf<Keeping> keepings();

  /** Copies of editing stages, by application. */
  Shelf<SourceCopies> copies();

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

  /** What stands in the chain in place of the names of people. */
  Names names();

  /**
   * Takes every name of a person out of the history and of the records; the chain stays as it is.
   * The person's own record is to be taken away before.
   *
   * @param as what is read in its place
   */
  Blanked blank(String login, String as);

  /**
   * What came of blanking.
   *
   * @param signs of the names, as the chain has them
   * @param entries of the history that read otherwise now
   * @param records that read otherwise now
   * @param unsigned entries of which the chain itself has the name, from before there were signs:
   *     they keep it
   */
  record Blanked(List<String> signs, long entries, long records, long unsigned) {
    public Blanked {
      signs = List.copyOf(signs);
    }
  }

  /** Adds one event to the chain; names of people in it stand beside it. */
  HistoryEntry note(HistoryEntry.Event event, Instant at);

  /** Newest first; what can be seen from there, and what the person did that belongs nowhere. */
  Slice<HistoryEntry> history(HistoryFilter filter, HistorySight sight);

  /** Every entry, newest first. */
  default List<HistoryEntry> history(HistoryFilter filter) {
    return history(filter, HistorySight.EVERYTHING).items();
  }

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
    default List<T> list(Filter filter) {
      return slice(filter, Sight.EVERYWHERE).items();
    }

    /** Newest first, of what can be seen from there, at most {@code filter.limit()}. */
    Slice<T> slice(Filter filter, Sight sight);

    /** How many there are; nothing is read. */
    long count(Filter filter);

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

  /** Promotions and rollbacks. */
  interface PromotionShelf extends Shelf<Promotion> {
    /** Newest first, as lists show them. */
    Slice<PromotionHead> heads(Filter filter, Sight sight);
  }

  /** Runs. */
  interface RunShelf extends Shelf<Run> {
    /** Newest first, as lists show them. */
    Slice<RunHead> heads(Filter filter, Sight sight);

    /** Of one promotion, newest first. */
    List<Run> of(long promotion);

    /** How long those that ended so took, all together; nothing is read one by one. */
    Duration took(RunState ended);
  }

  /**
   * Which records; null, and no state, means any.
   *
   * @param before where the part begins, as the part before said; 0 for the newest
   */
  record Filter(
      @Nullable String application,
      @Nullable String stage,
      @Nullable String site,
      List<String> states,
      long before,
      int limit) {
    /** More than any list that people read needs (guess); bounds memory. */
    public static final int MOST = 10_000;

    public Filter {
      states = List.copyOf(states);
    }

    public static Filter all() {
      return new Filter(null, null, null, List.of(), 0, MOST);
    }

    /** Of an application at a site. */
    public static Filter at(String application, SiteKey site) {
      return new Filter(application, site.stage(), site.site(), List.of(), 0, MOST);
    }

    /** Of every application at a site. */
    public static Filter at(SiteKey site) {
      return new Filter(null, site.stage(), site.site(), List.of(), 0, MOST);
    }

    public static Filter application(@Nullable String application) {
      return all().of(application);
    }

    public static Filter state(String... states) {
      return all().in(List.of(states));
    }

    public Filter of(@Nullable String which) {
      return new Filter(which, stage, site, states, before, limit);
    }

    public Filter stage(@Nullable String which) {
      return new Filter(application, which, site, states, before, limit);
    }

    public Filter in(List<String> which) {
      return new Filter(application, stage, site, which, before, limit);
    }

    public Filter most(int most) {
      return new Filter(application, stage, site, states, before, most);
    }

    /** The part of a list that begins there. */
    public Filter part(long from, int most) {
      return new Filter(application, stage, site, states, from, most);
    }
  }

  /** Which events; null means any; {@code before} is a sequence number, 0 for the newest. */
  record HistoryFilter(
      @Nullable String application,
      @Nullable String stage,
      @Nullable String event,
      @Nullable String actor,
      long before,
      int limit) {
    /** The part of the whole that begins there. */
    public static HistoryFilter part(long before, int limit) {
      return new HistoryFilter(null, null, null, null, before, limit);
    }

    public HistoryFilter most(int most) {
      return new HistoryFilter(application, stage, event, actor, before, most);
    }
  }

  /**
   * Whose eyes look back.
   *
   * @param login sees what this person did, also where it belongs to no stage and no application
   * @param all whether everything of that sort is seen, whoever did it
   */
  record HistorySight(Sight sight, String login, boolean all) {
    public static final HistorySight EVERYTHING = new HistorySight(Sight.EVERYWHERE, "", true);
  }

  /** A connection's secret, encrypted; the plain value never comes here. */
  record Secret(String id, String cipher, String keyId, int revision) {}

  /**
   * Object ids that were read with a component, to tell a rename.
   *
   * @param version the version by whose names they were read, such as {@code fares@1.2.0}; null of
   *     one that an earlier Plenzo read
   */
  record Capture(
      String id,
      long objectId,
      java.util.Map<String, Integer> attributes,
      @Nullable String version,
      int revision) {}

  /** The answer to a call that carried an idempotency key. */
  record Answered(String id, String body, int status, String answer, Instant at, int revision) {}
}
