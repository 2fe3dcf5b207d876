"""Orders: followed, got ready, bought for."""
