"""The command line's contract: shapes of requests and answers, and the commands behind them."""
